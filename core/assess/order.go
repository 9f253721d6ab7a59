package assess

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"zanjero/core/authoring"
	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/ledger"
	"zanjero/core/procedure"
	"zanjero/core/reading"
	"zanjero/core/units"
)

// Ordered is how well a test stood where it was made.
type Ordered struct {
	Seq  int    `json:"seq"`
	Test string `json:"test"`
	// Regret is the minutes that are to be expected longer than after the best test that
	// could have been made then; Better is that test, "" where this was it.
	Regret float64 `json:"regret_minutes"`
	Better string  `json:"better,omitempty"`
	// Exempt is why nothing is asked of its place, "" where it counts.
	Exempt string `json:"exempt,omitempty"`
	// Departure is how it stands to the page that was given with the job; "" without one.
	Departure string `json:"departure,omitempty"`
}

// Why a test's place is not asked about.
const (
	ExemptBaseline = "baseline"    // the complaint itself, tried first
	ExemptProof    = "proof"       // made after work, to see whether it helped
	ExemptLittle   = "little-left" // little was left to know
	ExemptAgain    = "again"       // it mends a reading that was not valid or not read right
	ExemptSchool   = "school"      // the next step of the school that was worked by
	ExemptAsking   = "not-weighed" // no test of the machine
)

// How a test stands to the page that was given.
const (
	Followed    = "followed"
	Justified   = "justified"
	Unjustified = "unjustified"
)

// departed are the codes of what is said of it.
var departed = map[string]string{Followed: "order.followed", Justified: "order.justified", Unjustified: "order.unjustified"}

const (
	// littleLeft is how many bits are so few that any order will do.
	littleLeft = 0.3
	// atLeastHalf of the tests follow the school that somebody is said to work by, and no
	// fewer than schoolSteps.
	atLeastHalf = 0.5
	schoolSteps = 2
	// costly is a regret that is told of, minutes.
	costly = 2.0
	// Regret costs nothing up to so many times the reference's minutes, and all marks from
	// so many: as much as economy allows.
	freeRegret, allRegret = fullRatio - 1, noneRatio - 1
)

// step is a line as order and economy look at it.
type step struct {
	seq                int
	test, repair       string
	reach              string
	lateral            string
	ordered            Ordered
	likely             float64
	useless, unfounded bool
	sooner             string // the test that may well have shown that less work is enough
	weighed            bool   // its place counts
	told               bool   // it was made before any work and had much to tell
}

// order goes through the tests with what was believed by what had been written down, and
// keeps what each was worth where it stood.
func (a *attempt) order(ctx context.Context) error {
	st, err := authoring.Begin(ctx, a.sc, a.answers)
	if err != nil {
		return err
	}
	w := walk{a: a, st: st, made: map[string]*ledger.Line{}, work: a.works()}
	lines := a.ledger.Lines()
	w.school, w.page = a.followed(lines)
	for i := range lines {
		line := &lines[i]
		switch {
		case isTest(line):
			if err := w.test(ctx, line); err != nil {
				return err
			}
		case line.Kind == ledger.EventRepair:
			w.repair(line)
		}
	}
	return nil
}

// works names the work that mends a set of faults.
func (a *attempt) works() func(faults []string) string {
	known := map[string]string{}
	return func(faults []string) string {
		var out []string
		for _, f := range faults {
			if known[f] == "" {
				known[f] = strings.Join(authoring.SameWork(a.sc, f), "+")
			}
			out = append(out, known[f])
		}
		return strings.Join(out, "&")
	}
}

// walk is where one has come to in the ledger.
type walk struct {
	a            *attempt
	st           *diagnosis.Standing
	made         map[string]*ledger.Line
	work         func(faults []string) string
	school, page map[int]string // by place: the step of the school or page that it was, or how it left
	repaired     bool
	tests        int
}

// may says that a test could be made, and has not been on the machine as it is.
func (w *walk) may(id string) bool {
	return w.made[id] == nil && w.a.sc.InKit(w.a.cat.Test(id)) && id != reading.AskHistory
}

func (w *walk) test(ctx context.Context, line *ledger.Line) error {
	a := w.a
	s := step{seq: line.Seq, test: line.Test, lateral: a.cat.Test(line.Test).Lateral, ordered: Ordered{Seq: line.Seq, Test: line.Test}}
	o := &s.ordered
	again := w.made[line.Test]
	first := w.tests == 0
	w.tests++
	claim := a.sc.Complaint().Claim.Test
	switch {
	case first && (line.Test == claim || a.cat.Test(line.Test).Kind == catalogue.KindRun):
		o.Exempt = ExemptBaseline
	case w.repaired && (line.Test == claim || line.Seq == a.hand.ProofSeq || a.repeats(*line, claim)):
		o.Exempt = ExemptProof
	case !w.st.Asks(line.Test) || line.Test == reading.AskHistory:
		o.Exempt = ExemptAsking
	case bitsLeft(w.st.Bits()) < littleLeft:
		o.Exempt = ExemptLittle
	case again != nil && !a.trusted(again):
		o.Exempt = ExemptAgain
	}
	if o.Exempt == "" {
		if err := w.weigh(ctx, &s, again != nil); err != nil {
			return err
		}
	}
	a.steps = append(a.steps, s)
	if seen := a.asWritten(line); seen != nil && (again == nil || o.Exempt == ExemptAgain || w.repaired) {
		w.st.Take(line.Test, seen)
	}
	w.made[line.Test] = line
	return nil
}

// weigh finds what a test costs where it stands, against the best that could be made.
func (w *walk) weigh(ctx context.Context, s *step, again bool) error {
	o := &s.ordered
	x, err := w.weighed(ctx, s)
	if err != nil {
		return err
	}
	toGo := x.toGo
	best, least := "", math.Inf(1)
	for _, t := range w.a.sc.Tests() { // in the catalogue's order, so that ties are the same each time
		if c, ok := toGo[t.ID]; ok && c < least-1e-9 && (t.ID != s.test || !again) {
			best, least = t.ID, c
		}
	}
	if c, ok := toGo[s.test]; ok {
		if again {
			c = least + w.a.cat.Test(s.test).Minutes
		}
		o.Regret = round1(max(c-least, 0))
	}
	if best != s.test && o.Regret > 0 {
		o.Better = best
	}
	s.useless = again || x.bits < littleBits
	s.told = !w.repaired && x.bits >= worthTesting
	switch {
	case w.page != nil:
		o.Departure = w.page[s.seq]
		switch replaced := w.page[-1-s.seq]; {
		case o.Departure != Unjustified || replaced == "": // followed, or left for safety
		case toGo[replaced] == 0 || o.Regret <= toGo[replaced]-least+0.05:
			o.Departure = Justified
		}
		s.weighed = o.Departure == Unjustified
	case w.school[s.seq] != "":
		o.Exempt = ExemptSchool
	default:
		s.weighed = true
	}
	return nil
}

// weighedAt is a place in the ledger, with the slips before it that were put right.
type weighedAt struct {
	seq     int
	righted string
}

// weighing is the minutes to go after each test that could be made there, and what the one
// that was made had to tell.
type weighing struct {
	toGo map[string]float64
	bits float64
}

// weighed looks at what could be made, once for all ways that are the same up to there.
func (w *walk) weighed(ctx context.Context, s *step) (weighing, error) {
	at := weighedAt{seq: s.seq}
	for _, r := range w.a.righted {
		if r.TakenAt < s.seq {
			at.righted += fmt.Sprint(r.TakenAt, r.Part, ";")
		}
	}
	x, known := w.a.weighings[at]
	if known {
		return x, nil
	}
	toGo, err := w.st.ToGo(ctx, w.a.openAt[s.seq], w.work, func(id string) bool { return id == s.test || w.may(id) })
	if err != nil {
		return weighing{}, err
	}
	x = weighing{toGo, w.st.Tell(s.test)}
	w.a.weighings[at] = x
	return x, nil
}

// repair takes in work that was done, and whether a test was the next thing to do.
func (w *walk) repair(line *ledger.Line) {
	r := w.a.cat.Repair(line.Repair, line.Reach)
	s := step{seq: line.Seq, repair: line.Repair, reach: line.Reach, likely: w.st.Any(r.Mends)}
	if fits(r.Act) {
		s.unfounded, s.sooner = w.testFirst(&r, s.likely, w.a.openAt[line.Seq])
	}
	w.a.steps = append(w.a.steps, s)
	w.st.Repaired(r.Mends, r.Success)
	w.made, w.repaired = map[string]*ledger.Line{}, true
}

// testFirst says that a test comes before some work: where the work is not surely it, one
// that tells and takes clearly less than the work is expected to waste; where it is, one
// that may well show that less work is enough, which is named.
func (w *walk) testFirst(r *catalogue.Repair, likely float64, open []string) (first bool, sooner string) {
	if likely >= surely {
		if test, saved := authoring.TestFirst(w.a.sc, w.st, open, r, w.may); saved >= costly {
			return true, test
		}
		return false, ""
	}
	wasted := (1 - likely) * (r.Minutes + r.Cost*60/max(w.a.sc.Sheet["labour_money_h"].Middle(), 1) + proving)
	return slices.ContainsFunc(w.st.Rank(diagnosis.Weights{}, open, w.may), func(x diagnosis.Worth) bool {
		return x.Bits >= worthTesting && x.Minutes < wasted/clearly
	}), ""
}

// fits says that work fits a new part, which is what a guess throws at an engine.
func fits(act string) bool { return act == "replace" || act == "rebuild" }

// trusted says that a reading was valid and written down as it was shown.
func (a *attempt) trusted(line *ledger.Line) bool {
	if !line.Obs.Valid {
		return false
	}
	for _, r := range a.review {
		if r.TakenAt == line.Seq && !r.ReadRight {
			return false
		}
	}
	return line.Entry != nil
}

// asWritten is what a test showed as it was written down; nil for nothing.
func (a *attempt) asWritten(line *ledger.Line) *bench.Observation {
	e := line.Entry
	if e == nil || e.Left {
		return nil
	}
	o := *line.Obs
	t := a.cat.Test(line.Test)
	switch {
	case t.Kind != catalogue.KindNumber:
		word := e.Word
		o.Word = &word
	case e.Over:
		o.Value = nil
	default:
		v, err := units.Convert(e.Value, units.Unit(e.Unit), units.Unit(t.Unit))
		if err != nil {
			return nil
		}
		o.Value = &v
	}
	return &o
}

// followed gives, by place in the ledger, the tests that were next on the page of a school,
// where most were; or, where a page was given with the job and is at hand, how each test
// stands to it, with the test that it replaced under −1 less its place.
func (a *attempt) followed(lines []ledger.Line) (school, page map[int]string) {
	places := func(f *procedure.Followed) map[int]string {
		out := map[int]string{}
		for _, p := range f.Passed {
			for i := range lines {
				if st := &lines[i]; isTest(st) && (st.Seq == p.Seq || (st.Entry != nil && st.Entry.Seq == p.Seq)) {
					out[st.Seq] = st.Test
				}
			}
		}
		return out
	}
	if given := a.sc.PageAtHand(); given != nil {
		f := given.Follow(a.sc.Family, a.sc.Sheet, lines, a.ledger.Pages())
		page = places(&f)
		for seq := range page {
			page[seq] = Followed
		}
		for i := range lines {
			st := &lines[i]
			if !isTest(st) || page[st.Seq] != "" {
				continue
			}
			page[st.Seq] = Unjustified
			if a.leftFor(st.Seq) == ledger.LeaveSafety {
				page[st.Seq] = Justified
			}
			if at := a.frontOf(given, &f, st.Seq); at >= 0 {
				page[-1-st.Seq] = given.Steps[at].Test
			}
		}
		return nil, page
	}
	tests := 0
	for i := range lines {
		if isTest(&lines[i]) {
			tests++
		}
	}
	for _, p := range procedure.Schools().Expand() {
		if p.Complaint != a.sc.Claim || !slices.Contains(p.Families, a.sc.Family) {
			continue
		}
		f := p.Follow(a.sc.Family, a.sc.Sheet, lines, nil)
		if by := places(&f); len(by) > len(school) && len(by) >= schoolSteps && float64(len(by)) >= atLeastHalf*float64(tests) {
			school = by
		}
	}
	return school, nil
}

// leftFor is why the page is left at a place, "" where it is not.
func (a *attempt) leftFor(seq int) (why string) {
	for _, p := range a.ledger.Pages() {
		if p.Seq < seq {
			why = p.Why
		}
	}
	return why
}

// frontOf is the step that was in front at a place, or −1.
func (a *attempt) frontOf(page *procedure.Procedure, f *procedure.Followed, seq int) int {
	at := 0
	for _, p := range f.Passed {
		if p.Seq >= seq {
			break
		}
		at = len(page.Steps)
		if p.Outcome >= 0 {
			if next := page.After(p.Step, &page.Steps[p.Step].Outcomes[p.Outcome]); next >= 0 {
				at = next
			}
		}
	}
	if at >= len(page.Steps) {
		return -1
	}
	return at
}

// ordered marks the order by its regret.
func (a *attempt) ordered(c *concluded) (s Section, out []Ordered) {
	s = Section{ID: "order", Of: a.rubric.Order, Reasons: []Reason{}}
	out = []Ordered{}
	sum, made := 0.0, 0
	for i := range a.steps {
		st := &a.steps[i]
		if st.test == "" {
			if st.unfounded { // a test was the next thing to do
				minutes := a.cat.Repair(st.repair, st.reach).Minutes
				sum += minutes
				s.tell(false, st.seq, "order.work-first", "repair", st.repair, "reach", st.reach, "minutes", minutes)
			}
			continue
		}
		o := st.ordered
		out = append(out, o)
		if o.Departure != "" && o.Exempt == "" {
			s.tell(o.Departure != Unjustified, o.Seq, departed[o.Departure], "test", o.Test)
		}
		if o.Exempt != ExemptBaseline && o.Exempt != ExemptProof {
			made++
		}
		if !st.weighed {
			continue
		}
		sum += o.Regret
		if o.Regret >= costly && o.Better != "" {
			s.tell(false, o.Seq, "order.costly", "test", o.Test, "minutes", o.Regret, "better", "@test."+o.Better+".title")
		}
	}
	sum = round1(sum)
	if made == 0 && (!Founded(c.class) || sum > 0) {
		s.give(0, s.Of, false, -1, "order.no-steps")
		return s, out
	}
	reference := max(a.refer.TestMinutes, leastMinutes)
	share := clamp01((allRegret - sum/reference) / (allRegret - freeRegret))
	s.Mark = round1(share * s.Of)
	s.give(share*s.Of, s.Of, share >= 0.999, -1, "order.regret", "minutes", sum, "reference", round1(reference))
	return s, out
}
