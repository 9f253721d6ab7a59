// Package assess turns a finished attempt into marks with reasons, in six sections:
// readings, evidence and conclusion, economy, order, safety, proof and hand-over. They are
// judged against the true cause, against what the evidence, as it was taken and as it was
// written down, could say, and against how somebody competent gets on with the same job.
package assess

import (
	"context"
	"fmt"
	"math"
	"slices"

	"zanjero/core/authoring"
	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/ledger"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/scenario"
)

// Filings of a finding.
const (
	Root         = "root"
	Contributing = "contributing"
	Incidental   = "incidental"
	NotAFault    = "not-a-fault"
)

// Verdicts on the machine.
const (
	Repaired = "repaired"
	NotWorth = "not-worth-it"
	ReferOn  = "refer-on"
)

// Finding is one claim of a hand-over: a part, what is wrong with it, how it
// is filed and which ledger entries bear it out.
type Finding struct {
	Reach    string `json:"reach"`
	Fault    string `json:"fault,omitempty"`
	Filing   string `json:"filing"`
	Evidence []int  `json:"evidence,omitempty"`
}

// HandOver is what an apprentice hands back with the machine.
type HandOver struct {
	Findings []Finding `json:"findings"`
	// Cause is how the fault came about: the id of a cause, or of a fault that
	// led to it; empty for "not known".
	Cause   string `json:"cause,omitempty"`
	Advice  string `json:"advice,omitempty"`
	Verdict string `json:"verdict"`
	// ProofSeq is the ledger entry offered as proof, −1 for none.
	ProofSeq int    `json:"proof_seq"`
	Note     string `json:"note,omitempty"`
}

// Reason is one line of the marks: what, where in the ledger, and why. Its words
// stand in the message files under its code.
type Reason struct {
	Code   string         `json:"code"`
	Params problem.Params `json:"params,omitempty"`
	// Seq is the ledger entry it points at, −1 for none.
	Seq  int  `json:"seq"`
	Good bool `json:"good"`
	// Marks of Of that it gave; 0 of 0 for a line that only tells.
	Marks float64 `json:"marks"`
	Of    float64 `json:"of"`
}

// Section is one part of the marks.
type Section struct {
	ID      string   `json:"id"`
	Mark    float64  `json:"mark"`
	Of      float64  `json:"of"`
	Reasons []Reason `json:"reasons"`
}

// tell adds a line that gives no marks by itself.
func (s *Section) tell(good bool, seq int, code string, pairs ...any) {
	s.give(0, 0, good, seq, code, pairs...)
}

// give adds a line with its marks.
func (s *Section) give(marks, of float64, good bool, seq int, code string, pairs ...any) {
	s.Reasons = append(s.Reasons, Reason{code, problem.Pairs(pairs...), seq, good, round2(marks), round2(of)})
}

// Truth is one hidden fault, told at the debrief.
type Truth struct {
	ID       string  `json:"id"`
	Reach    string  `json:"reach"`
	Severity float64 `json:"severity"`
	Mended   bool    `json:"mended"`
}

// Step names what was done at a point of the time line.
type Step struct {
	// Kind is that of the ledger's event, or "" for the job card.
	Kind   string `json:"kind"`
	Test   string `json:"test,omitempty"`
	Repair string `json:"repair,omitempty"`
	Reach  string `json:"reach,omitempty"`
	Do     string `json:"do,omitempty"`
}

// Point is where the evidence stood after a step.
type Point struct {
	Seq     int     `json:"seq"`
	Minutes float64 `json:"minutes"`
	Step    Step    `json:"step"`
	// Bits left to know, and the sets of faults that hold 95 %.
	Bits       float64 `json:"bits"`
	Candidates int     `json:"candidates"`
	// Theirs is the apprentice's board, Evidence what the evidence as written
	// down would mark.
	Theirs   map[string]string `json:"theirs"`
	Evidence map[string]string `json:"evidence"`
	// Standings are the marginal probabilities of the faults.
	Standings map[string]float64 `json:"standings"`
}

// Assessment is the whole of it. It is frozen at hand-over.
type Assessment struct {
	// Form is the version of this form, FormNow where it is made.
	Form         int     `json:"form"`
	ModelVersion string  `json:"model_version"`
	Truth        []Truth `json:"truth"`
	// Outcome is Competent or NotYet; Against says why not, if not.
	Outcome string   `json:"outcome"`
	Against []Reason `json:"against"`
	Class   string   `json:"class"`
	// P is what the record says of what was concluded, 0 to 1, CauseShare how far up the
	// chain of causes was come, and FalselyAccused the reaches.
	P              float64  `json:"p"`
	CauseShare     float64  `json:"cause_share"`
	FalselyAccused []string `json:"falsely_accused"`
	// Verdict is what is said of each hidden fault, in their order.
	Verdict      []Reason     `json:"verdict"`
	Sections     []Section    `json:"sections"`
	Readings     []Reading    `json:"readings"`
	Points       []Point      `json:"points"`
	Standings    Standings    `json:"standings"`
	HandedBack   []bench.Left `json:"handed_back"`
	Minutes      float64      `json:"minutes"`
	LimitMinutes float64      `json:"limit_minutes"`
	Money        float64      `json:"money"`
	LimitMoney   float64      `json:"limit_money"`
	// Parts that were fitted and mended nothing.
	Wasted []Waste `json:"wasted"`
	// Makeshifts are improvised work and what any work left behind; Skipped the
	// precautions that were not taken.
	Makeshifts []Makeshift `json:"makeshifts"`
	Skipped    []Skip      `json:"skipped"`
	Worth      RepairValue `json:"worth"`
	Hand       HandOver    `json:"hand_over"`
	Economy    Economy     `json:"economy"`
	Order      []Ordered   `json:"order"`
	Proof      Proved      `json:"proof"`
	// Skills are the marks again, as shares, by skill and path.
	Skills []Skill `json:"skills"`
	// Untested: before the first work no test was made that had anything to tell. Whoever
	// fits parts until it runs does so, and so does somebody competent where the complaint
	// tells the fault: it shows work and proof, and nothing of finding faults.
	Untested bool    `json:"untested,omitempty"`
	found    float64 // share of the root
}

// Outcomes.
const (
	Competent = "competent"
	NotYet    = "not-yet"
)

// Skill is how well one thing was done on one path, 0 to 1.
type Skill struct {
	Skill   string  `json:"skill"`
	Lateral string  `json:"lateral"`
	Score   float64 `json:"score"`
}

// FormNow is the form in which assessments are written. Older ones are read by
// Read.
const FormNow = 3

// Waste is work on a sound part.
type Waste struct {
	Act   string  `json:"act"`
	Reach string  `json:"reach"`
	Cost  float64 `json:"cost"`
}

// Standings are the three beliefs at hand-over, by fault.
type Standings struct {
	Shown     map[string]float64 `json:"shown"`
	Recorded  map[string]float64 `json:"recorded"`
	AsIfValid map[string]float64 `json:"as_if_valid"`
}

// attempt is everything the sections look at.
type attempt struct {
	sc *scenario.Scenario
	// singles is the population over single faults.
	singles *diagnosis.Population
	answers *diagnosis.Answers
	refer   *authoring.Reference
	rubric  scenario.Rubric
	hand    HandOver
	ledger  *ledger.Ledger // after the last event
	review  []Reading
	points  []Point
	prior   diagnosis.Report
	final   map[diagnosis.View]diagnosis.Report
	// asIfValid and recorded hold the report after each step.
	asIfValid, recorded []diagnosis.Report
	cat                 *catalogue.Catalogue
	// openAt are the covers that were off before a line, by its place.
	openAt map[int][]string
	steps  []step
	// righted are the slips that were put right in it; weighings are kept for all ways of
	// one attempt.
	righted   []*Reading
	weighings map[weighedAt]weighing
}

// Input is an attempt to be judged.
type Input struct {
	Scenario *scenario.Scenario
	Seed     uint64
	Events   []ledger.Event
	Hand     HandOver
	// Made is how tests were made that were made at once, in place of at a bench; nil for
	// a bench.
	Made *Made
	// Answers are those of the scenario's engine, and Reference how somebody competent gets
	// on with the job, for whoever keeps them; nil for ones made for this.
	Answers   *diagnosis.Answers
	Reference *authoring.Reference
}

// Made is how tests are made at once.
type Made struct {
	Technique bench.Technique
	Noise     bool
}

// Assess replays an attempt from its events and judges it. It fails with a
// *problem.Problem when an event cannot be replayed, which means that the ledger belongs to
// another model, and when the context ends.
func Assess(ctx context.Context, in Input) (*Assessment, error) {
	sc := in.Scenario
	var err error
	if in.Answers == nil {
		if in.Answers, err = authoring.Answers(ctx, sc); err != nil {
			return nil, err
		}
	}
	if in.Reference == nil {
		if in.Reference, err = authoring.Refer(ctx, sc, in.Answers); err != nil {
			return nil, err
		}
	}
	a, err := in.replayed(ctx, in.Events)
	if err != nil {
		return nil, err
	}
	// The machines are replayed once for all ways in which it could have been written down.
	var ways []*attempt
	for _, slips := range a.putRight() {
		right, err := in.replayed(ctx, withRight(in.Events, slips))
		if err != nil {
			return nil, err
		}
		right.righted, right.weighings = slips, a.weighings
		ways = append(ways, right)
	}
	if err := weigh(ctx, append(ways, a)); err != nil {
		return nil, err
	}
	out, err := a.marked(ctx)
	if err != nil {
		return nil, err
	}
	for _, right := range ways {
		other, err := right.marked(ctx)
		if err != nil {
			return nil, err
		}
		a.luck(out, other)
	}
	a.onSlips(out)
	a.outcome(out)
	out.Skills = a.skills(out)
	return out, nil
}

// replayed is an attempt from its events, every reading reviewed.
func (in *Input) replayed(ctx context.Context, events []ledger.Event) (*attempt, error) {
	l, err := in.bench()
	if err != nil {
		return nil, err
	}
	a := &attempt{sc: in.Scenario, singles: in.Answers.Population(), answers: in.Answers, refer: in.Reference, rubric: in.Scenario.Weights(), hand: in.Hand,
		ledger: l, review: []Reading{}, final: map[diagnosis.View]diagnosis.Report{}, cat: in.Scenario.Figures(), openAt: map[int][]string{},
		weighings: map[weighedAt]weighing{}}
	return a, a.replay(ctx, events)
}

// marked is the assessment of an attempt that has been weighed, but for its outcome.
func (a *attempt) marked(ctx context.Context) (*Assessment, error) {
	if err := a.order(ctx); err != nil {
		return nil, err
	}
	sc, l := a.sc, a.ledger
	out := &Assessment{
		Form: FormNow, ModelVersion: machine.Version, Readings: a.review, Points: a.points, Hand: a.hand,
		Minutes: round1(l.Minutes()), LimitMinutes: sc.LimitMinutes, Money: l.Money(), LimitMoney: sc.LimitMoney,
		HandedBack: a.notReady(), Wasted: []Waste{}, Makeshifts: a.makeshifts(), Skipped: a.skips(), Worth: ValueOf(sc),
		Standings: Standings{a.final[diagnosis.Shown].Fault, a.final[diagnosis.Recorded].Fault, a.final[diagnosis.AsIfValid].Fault},
	}
	left := l.Machine().Faults()
	for _, f := range sc.Faults {
		out.Truth = append(out.Truth, Truth{f.ID, a.cat.Fault(f.ID).Reach, f.Severity, !contains(left, f.ID) || a.cured(f.ID)})
	}
	for _, p := range l.Fitted() {
		if len(p.Mended) == 0 && p.Cost > 0 {
			out.Wasted = append(out.Wasted, Waste{p.Act, p.Reach, p.Cost})
		}
	}
	a.conclude(out)
	return out, nil
}

// bench is the ledger that the events are put to.
func (in *Input) bench() (*ledger.Ledger, error) {
	if in.Made != nil {
		return in.Scenario.Made(in.Made.Technique, in.Made.Noise, in.Seed)
	}
	return in.Scenario.Ledger(in.Seed)
}

// conclude marks the sections.
func (a *attempt) conclude(out *Assessment) {
	c := a.conclusion()
	// What was concluded rightly from runs alone, and without guessing, needed no reading.
	unfounded := slices.ContainsFunc(a.steps, func(s step) bool { return s.unfounded })
	readings := a.readings(!Founded(c.class) || unfounded)
	economy, spent := a.economy(c.found)
	order, steps := a.ordered(&c)
	safety := a.safety(out.HandedBack)
	proof, proved := a.proof(out.HandedBack)
	out.Sections = []Section{readings, c.section, economy, order, safety, proof}
	out.Class, out.Verdict, out.P, out.CauseShare, out.FalselyAccused = c.class, c.verdict, c.p, c.cause, c.accused
	out.Economy, out.Order, out.Proof, out.found = spent, steps, proved, c.found
	out.Untested = !slices.ContainsFunc(a.steps, func(s step) bool { return s.told })
}

func contains(fs []machine.FaultSpec, id string) bool {
	for _, f := range fs {
		if f.ID == id {
			return true
		}
	}
	return false
}

// cured: a fault that is only a control left wrong is gone once it is set.
func (a *attempt) cured(fault string) bool {
	c := a.ledger.Machine().State().Controls
	return (fault == "switch-off" && !c.Stop) || (fault == "valve-shut" && !c.ValveShut)
}

// replay applies the events again, reviewing each reading as it is made with
// the same test made as a master would have.
func (a *attempt) replay(ctx context.Context, events []ledger.Event) error {
	var before *bench.Session
	for i, e := range events {
		if err := ctx.Err(); err != nil {
			return err
		}
		took := e.Kind == ledger.EventTake || e.Kind == ledger.EventMade || e.Kind == ledger.EventHand
		if took {
			before = a.ledger.Session.Clone()
		}
		if p := a.ledger.Apply(e); p != nil {
			return p.At(fmt.Sprintf("events[%d].", i))
		}
		if n := len(a.ledger.Lines()); n > 0 && before != nil {
			if last := &a.ledger.Lines()[n-1]; last.Obs != nil && a.openAt[last.Seq] == nil {
				a.openAt[last.Seq] = before.Open()
			}
		}
		st := a.written(e)
		if st == nil {
			continue
		}
		// What was written before of the same is corrected by it.
		a.review = slices.DeleteFunc(a.review, func(r Reading) bool { return r.TakenAt == st.Seq })
		switch {
		case st.Entry.Left:
		case a.cat.Test(st.Test).Kind == catalogue.KindNumber:
			would := *st.Obs // of a real engine nobody can say what it would have shown
			if st.Held == nil {
				would = before.AsMaster().Test(st.Test, nil)
			}
			a.review = append(a.review, reviewNumber(a.cat, a.sc.Sheet, st, would))
		default:
			a.review = append(a.review, reviewLook(st))
		}
		a.review = append(a.review, reviewParts(a.ledger.TestOf(st.Test), a.sc.Sheet, st)...)
	}
	return nil
}

// written is the line that an event wrote something down at, or nil.
func (a *attempt) written(e ledger.Event) *ledger.Line {
	lines := a.ledger.Lines()
	k := len(lines) - 1
	switch e.Kind {
	case ledger.EventMade, ledger.EventHand:
	case ledger.EventEntry:
		for a.ledger.InHand() == "" && lines[k].Obs == nil {
			k--
		}
	default:
		return nil
	}
	// What a run does is told in words, and is no reading.
	if st := &lines[k]; st.Entry != nil && a.ledger.TestOf(st.Test).Kind != catalogue.KindRun {
		return st
	}
	return nil
}

// stepOf is a line as the time line shows it; shows is false for what it leaves
// out.
func stepOf(st ledger.Line) (s Step, shows bool) {
	switch st.Kind {
	case ledger.EventTake, ledger.EventRepair, ledger.EventWait, ledger.EventDo:
		return Step{st.Kind, st.Test, st.Repair, st.Reach, st.Do}, true
	}
	return s, false
}

func (a *attempt) point(seq int, minutes float64, step Step, r diagnosis.Report) Point {
	theirs := map[string]string{}
	for _, m := range a.ledger.Marks() {
		// A mark made before the next step belongs to this one.
		if m.Seq < a.nextStep(seq) {
			theirs[m.Reach] = m.Mark
			if m.Mark == "" {
				delete(theirs, m.Reach)
			}
		}
	}
	return Point{Seq: seq, Minutes: round1(minutes), Step: step, Bits: max(r.Bits, 0), Candidates: len(r.Credible),
		Theirs: theirs, Evidence: a.evidenceBoard(seq, r), Standings: r.Fault}
}

// nextStep is the ledger place of the next thing learned after seq.
func (a *attempt) nextStep(seq int) int {
	for _, st := range a.ledger.Lines() {
		if _, shows := stepOf(st); shows && st.Seq > seq {
			return st.Seq
		}
	}
	return math.MaxInt
}

// Thresholds of the board: a reach is cleared at five per cent or less once
// evidence has lowered its odds fivefold, suspected at threefold odds or above
// a half, condemned from nine tenths.
const (
	clearAt, clearOdds     = 0.05, 5.0
	suspectAt, suspectOdds = 0.50, 3.0
	condemnAt              = 0.90
)

func odds(p float64) float64 { return p / max(1-p, 1e-9) }

// standing is the mark that evidence alone would make on a reach.
func standing(prior, now float64) string {
	switch {
	case now >= condemnAt:
		return ledger.MarkCondemned
	case now >= suspectAt, odds(now) >= suspectOdds*odds(prior) && now > clearAt:
		return ledger.MarkSuspect
	case now <= clearAt && odds(now)*clearOdds <= odds(prior):
		return ledger.MarkClear
	}
	return ""
}

// evidenceBoard marks the reaches by the recorded belief; reaches where no
// fault is on the list are cleared by a valid reading in band that proves them.
func (a *attempt) evidenceBoard(upTo int, r diagnosis.Report) map[string]string {
	out := map[string]string{}
	for id, now := range r.Reach {
		if m := standing(a.priorReach(id, r), now); m != "" {
			out[id] = m
		}
	}
	for _, st := range a.ledger.Lines() {
		if st.Seq > upTo || st.Obs == nil || !a.proves(st) {
			continue
		}
		for _, id := range a.cat.Test(st.Test).Proves {
			if _, weighed := r.Reach[id]; !weighed {
				out[id] = ledger.MarkClear
			}
		}
	}
	return out
}

func (a *attempt) priorReach(id string, fallback diagnosis.Report) float64 {
	if a.prior.Reach == nil {
		return fallback.Reach[id]
	}
	return a.prior.Reach[id]
}

// proves says that a step is a good, valid result.
func (a *attempt) proves(st ledger.Line) bool {
	if st.Obs == nil || !st.Obs.Valid {
		return false
	}
	if st.Obs.Band != nil {
		return *st.Obs.Band == "within"
	}
	return st.Obs.Word != nil && *st.Obs.Word == "daylight"
}

func round1(x float64) float64 { return math.Round(x*10) / 10 }

func round2(x float64) float64 { return math.Round(x*100) / 100 }

// Total is the sum of the marks, and what they are out of.
func (a *Assessment) Total() (mark, of float64) {
	for _, s := range a.Sections {
		mark += s.Mark
		of += s.Of
	}
	return round1(mark), of
}
