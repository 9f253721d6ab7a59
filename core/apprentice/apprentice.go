// Package apprentice works jobs as apprentices of several kinds would, slips and all, so
// that marks can be tried on attempts whose worth is known. It is for studies and tests.
package apprentice

import (
	"context"
	"fmt"
	"math/rand/v2"
	"slices"
	"strconv"

	"zanjero/core/assess"
	"zanjero/core/authoring"
	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/ledger"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/reading"
	"zanjero/core/scenario"
	"zanjero/core/setup"
)

// Kind is how somebody works. All are chances, 0 to 1, but Sure.
type Kind struct {
	ID string
	// Sure is how likely what work mends must be before it is done.
	Sure float64
	// Saves: a test is made first where it may well show that less work is enough.
	Saves bool
	// Wander is how often the test is not the best, but one of the next.
	Wander float64
	// Misread is how often a figure is written down wrong, Neglect how often a test is set up
	// as the last user left it, Care how often a precaution is taken, Tidy how often what was
	// opened and moved is put back, and Prove how often the end is proved.
	Misread, Neglect, Care, Tidy, Prove float64
	// Throws: parts are fitted until it runs, without a test.
	Throws bool
}

// Kinds of apprentice.
var Kinds = []Kind{
	{ID: "master", Sure: 0.90, Saves: true, Care: 1, Tidy: 1, Prove: 1},
	{ID: "careful-beginner", Sure: 0.90, Saves: true, Wander: 0.4, Misread: 0.05, Neglect: 0.1, Care: 1, Tidy: 1, Prove: 1},
	{ID: "parts-thrower", Sure: never, Care: 1, Tidy: 1, Prove: 1, Throws: true},
	{ID: "misreader", Sure: 0.90, Saves: true, Misread: 0.5, Neglect: 0.3, Care: 1, Tidy: 1, Prove: 1},
	{ID: "unsafe-and-quick", Sure: 0.6, Neglect: 0.3, Care: 0.1, Tidy: 0.4, Prove: 0.6},
}

const (
	never      = 2    // so sure is nobody
	mostTests  = 25   // and works, after which somebody gives up
	tells      = 0.02 // bits below which no test is made any more
	leastTry   = 0.10 // how likely what work mends must be that is tried when nothing tells
	wandersTo  = 4    // tests among which somebody wanders
	mostThrown = 6    // parts after which a thrower gives up
)

// Work has somebody work a job, with the answers of its engine. Noise and slips come from
// the seed; with slips the same person meets other noise by another noise seed. The error
// is the context's, or a job that cannot be.
func Work(ctx context.Context, sc *scenario.Scenario, a *diagnosis.Answers, k Kind, slips, noise uint64) (*assess.Input, error) {
	st, err := authoring.Begin(ctx, sc, a)
	if err != nil {
		return nil, err
	}
	l, err := sc.Made(bench.Ideal, true, noise)
	if err != nil {
		return nil, err
	}
	w := &worker{Kind: k, sc: sc, st: st, l: l, r: rand.New(rand.NewPCG(slips, 0xa44)), made: map[string]bool{}, proof: -1}
	if err := w.all(ctx); err != nil {
		return nil, err
	}
	return &assess.Input{Scenario: sc, Seed: noise, Events: l.Events(), Hand: w.hand(), Made: &assess.Made{Technique: bench.Ideal, Noise: true}, Answers: a}, nil
}

type worker struct {
	Kind
	sc     *scenario.Scenario
	st     *diagnosis.Standing
	l      *ledger.Ledger
	r      *rand.Rand
	made   map[string]bool
	fitted []string // work that was done, "act reach"
	proof  int      // place of a run that showed the complaint gone
	// told is the place of the last test that told much.
	told    int
	mended  *catalogue.Repair
	believe string // the fault that was concluded last
	named   []assess.Finding
	wrong   error
}

func (w *worker) chance(p float64) bool { return w.r.Float64() < p }

func (w *worker) do(e ledger.Event) {
	if p := w.l.Apply(e); p != nil && w.wrong == nil {
		w.wrong = fmt.Errorf("event %d of a simulated apprentice: %w", w.l.Seq(), (*problem.Problem)(p))
	}
}

// all is the whole of it: the complaint first, then tests and work by what is believed.
func (w *worker) all(ctx context.Context) error {
	w.take(w.sc.Complaint().Claim.Test, w.sc.Complaint().Claim.Setup)
	for range mostTests {
		if err := ctx.Err(); err != nil || w.wrong != nil {
			return cmpErr(w.wrong, err)
		}
		r, sure := w.work()
		test := ""
		switch {
		case w.Throws:
		case !sure:
			test = w.test()
		case w.Saves:
			if id, saved := authoring.TestFirst(w.sc, w.st, w.l.Open(), r, w.may); saved > authoring.WorthSaving {
				test = id
			}
		}
		switch {
		case test != "":
			w.take(test, nil)
		case r == nil:
			w.tidy()
			return w.wrong
		case w.condemned(r):
			w.conclude(r)
			w.tidy()
			return w.wrong
		default:
			w.mend(r)
			if w.proof >= 0 || (w.believe != "" && !w.chance(w.Prove)) {
				w.tidy()
				return w.wrong
			}
			if err := w.st.Still(ctx, w.sc.Claim, true); err != nil {
				return err
			}
		}
	}
	w.tidy()
	return w.wrong
}

func cmpErr(a, b error) error {
	if a != nil {
		return a
	}
	return b
}

// may says that a test could be made and has not been.
func (w *worker) may(id string) bool {
	return !w.made[id] && w.sc.InKit(catalogue.Standard().Test(id)) && id != reading.AskHistory
}

// test is the next test, "" where none tells.
func (w *worker) test() string {
	rank := w.st.Rank(diagnosis.Weights{}, w.l.Open(), w.may)
	var good []string
	for _, x := range rank {
		if x.Bits >= tells && len(good) < wandersTo {
			good = append(good, x.Test)
		}
	}
	if len(good) == 0 {
		return ""
	}
	if w.chance(w.Wander) {
		return good[w.r.IntN(len(good))]
	}
	return good[0]
}

// work is what would be done next, and whether that is sure enough.
func (w *worker) work() (best *catalogue.Repair, sure bool) {
	cat := w.sc.Figures()
	worth := 0.0
	for i := range cat.Repairs.Entries {
		r := &cat.Repairs.Entries[i]
		act := cat.RepairAct(r.Act)
		if act.Improvised() || !act.On(w.sc.Family, r.Reach) || slices.Contains(w.fitted, r.Act+" "+r.Reach) || (w.Throws && r.Act != "replace") {
			continue
		}
		p := w.st.Any(r.Mends)
		if p < leastTry && !w.Throws {
			continue
		}
		cost := r.Cost + r.Minutes*w.sc.Sheet["labour_money_h"].Middle()/60 + 1
		v := p * p / cost
		if p >= w.Sure {
			v = 1 + 1/cost // of what is sure, the cheapest
		}
		if v > worth {
			best, worth, sure = r, v, p >= w.Sure && !w.Throws
		}
	}
	if w.Throws && len(w.fitted) >= mostThrown {
		return nil, false
	}
	return best, sure
}

// condemned says that the work is dearer than the machine is worth.
func (w *worker) condemned(r *catalogue.Repair) bool {
	f := w.likeliest(r)
	if f == "" {
		return false
	}
	other := *w.sc
	other.Faults = []machine.FaultSpec{{ID: f, Severity: 1}}
	return !assess.ValueOf(&other).Repair
}

// likeliest is the likeliest fault that some work mends.
func (w *worker) likeliest(r *catalogue.Repair) (id string) {
	best := 0.0
	for _, f := range r.Mends {
		if p := w.st.Any([]string{f}); p > best {
			id, best = f, p
		}
	}
	return id
}

// take makes a test with the precautions that are thought of, and writes down what is read.
func (w *worker) take(id string, own setup.Settings) (shown *bench.Observation, seq int) {
	t := w.l.TestOf(id)
	cleared := false // and put on again afterwards
	for _, p := range w.sc.Figures().PrecautionsOf(t) {
		if p == "lead-clear" && w.l.Controls()["plug_lead"] == "on" && w.chance(w.Care) {
			w.do(ledger.Event{Kind: ledger.EventControl, Control: setup.Settings{"plug_lead": "earthed"}})
			cleared = true
		}
		if p != "leak-mended" && p != "lead-clear" && !slices.Contains(w.l.Taken(), p) && w.chance(w.Care) {
			w.do(ledger.Event{Kind: ledger.EventDo, Do: p})
		}
	}
	if setup.Starts(t) && w.l.Machine().State().SpiltML >= 1 && w.chance(w.Care) {
		w.do(ledger.Event{Kind: ledger.EventDo, Do: "wipe-spill"})
	}
	if w.chance(w.Neglect) {
		own = w.neglected(t)
	}
	e := ledger.Event{Kind: ledger.EventMade, Test: id, Setup: own}
	// What it will show is what it shows on a copy: noise goes by the seed.
	glance := w.l.Clone()
	if p := glance.Apply(e); p != nil {
		w.wrong = p
		return nil, 0
	}
	o := glance.Latest().Obs
	w.write(&e, t, o)
	seq = w.l.Seq()
	w.do(e)
	if cleared {
		w.do(ledger.Event{Kind: ledger.EventControl, Control: setup.Settings{"plug_lead": "on"}})
	}
	before := w.st.Clone()
	if seen := w.asWritten(o, &e, t); seen != nil && !w.made[id] {
		w.st.Take(id, seen)
	}
	w.made[id] = true
	if moved := before.Bits() - w.st.Bits(); moved > 0.2 {
		w.told = seq
	}
	return o, seq
}

// neglected is a test as somebody leaves it who does not think of it: shut down and slow.
func (w *worker) neglected(t *catalogue.Test) setup.Settings {
	if slices.Contains(t.Conditions, "throttle-open") {
		return setup.Settings{"throttle": 0.0}
	}
	return nil
}

// write puts down what was shown, or a slip.
func (w *worker) write(e *ledger.Event, t *catalogue.Test, o *bench.Observation) {
	switch {
	case t.Kind == catalogue.KindRun:
	case t.Kind != catalogue.KindNumber:
		e.Word = *o.Word
		if w.chance(w.Misread / 3) {
			e.Word = t.Words[w.r.IntN(len(t.Words))]
		}
	case o.Value == nil:
		e.Reading, e.Unit = ledger.OverLimit, t.Unit
	default:
		v := *o.Value
		if w.chance(w.Misread) {
			v *= []float64{0.1, 10, 0.5, 2}[w.r.IntN(4)]
		}
		e.Reading, e.Unit = figures(v), t.Unit
	}
	if f, ok := w.sc.Sheet[t.Figure]; ok && e.Reading != "" {
		e.Judged = "above"
		if e.Reading != ledger.OverLimit {
			var v float64
			_, _ = fmt.Sscan(e.Reading, &v)
			e.Judged = f.Judge(v)
		}
	}
}

// figures writes a number with four of them, as a person would.
func figures(v float64) string {
	short, _ := strconv.ParseFloat(strconv.FormatFloat(v, 'g', 4, 64), 64)
	return strconv.FormatFloat(short, 'f', -1, 64)
}

// asWritten is what somebody believes to have seen.
func (w *worker) asWritten(o *bench.Observation, e *ledger.Event, t *catalogue.Test) *bench.Observation {
	out := *o
	if e.Word != "" {
		out.Word = &e.Word
	}
	if t.Kind == catalogue.KindNumber && o.Value != nil {
		var v float64
		_, _ = fmt.Sscan(e.Reading, &v)
		out.Value = &v
	}
	return &out
}

// conclude takes what some work mends for the cause: of several works, those that were sure,
// and the last.
func (w *worker) conclude(r *catalogue.Repair) {
	w.mended, w.believe = r, w.likeliest(r)
	def := catalogue.Standard().Fault(w.believe)
	if def == nil {
		return
	}
	f := assess.Finding{Filing: assess.Root, Reach: def.Reach, Fault: def.ID}
	if !w.Throws {
		f.Evidence = []int{w.told}
	}
	if w.Throws || w.st.Any(r.Mends) < w.Sure {
		w.named = nil
	}
	w.named = append(w.named, f)
}

// mend does the work and tries the complaint again.
func (w *worker) mend(r *catalogue.Repair) {
	w.conclude(r)
	w.mark(r.Reach, ledger.MarkCondemned)
	w.do(ledger.Event{Kind: ledger.EventRepair, Repair: r.Act, Reach: r.Reach})
	w.fitted = append(w.fitted, r.Act+" "+r.Reach)
	w.st.Repaired(r.Mends, r.Success)
	w.made = map[string]bool{}
	if !w.Throws && !w.chance(w.Prove) {
		return
	}
	w.close()
	c := w.sc.Complaint()
	own := c.Claim.Setup
	if m := w.sc.ProofMinutes(); m > 0 {
		own = setup.Settings{"minutes": m, "load": "test"}
	}
	neglect := w.Neglect
	w.Neglect = 0
	o, seq := w.take(c.Claim.Test, own)
	w.Neglect = neglect
	if o != nil && !w.sc.Bad(o) {
		w.proof = seq
	}
}

func (w *worker) mark(reach, mark string) {
	if !w.Throws {
		w.do(ledger.Event{Kind: ledger.EventMark, Reach: reach, Mark: mark})
	}
}

// close puts covers and controls back.
func (w *worker) close() {
	for _, id := range w.l.Open() {
		w.do(ledger.Event{Kind: ledger.EventCover, Cover: id, Off: false})
	}
	c := setup.Settings{}
	now := w.l.Controls()
	for id, as := range map[string]any{"plug_lead": "on", "kill_lead": "on", "cap": "tight", "line_clamp": "off", "switch": "run", "fuel_valve": "open",
		"oil_lead": "on", "tilt": "level"} {
		if at, has := now[id]; has && at != as {
			c[id] = as
		}
	}
	if len(c) > 0 {
		w.do(ledger.Event{Kind: ledger.EventControl, Control: c})
	}
	if slices.Contains(w.l.Taken(), "block-driven") {
		w.do(ledger.Event{Kind: ledger.EventDo, Do: "block-driven"})
	}
}

// tidy is the end of the work.
func (w *worker) tidy() {
	if !w.chance(w.Tidy) {
		return
	}
	w.close()
	if w.l.Machine().State().SpiltML >= 1 {
		w.do(ledger.Event{Kind: ledger.EventDo, Do: "wipe-spill"})
	}
}

// hand is what is said in the end.
func (w *worker) hand() assess.HandOver {
	h := assess.HandOver{Verdict: assess.ReferOn, ProofSeq: -1}
	def := catalogue.Standard().Fault(w.believe)
	if def == nil {
		return h
	}
	h.Findings, h.Advice = w.named, def.Advice
	if len(def.Causes) > 0 {
		h.Cause = def.Causes[0]
	}
	switch {
	case w.proof >= 0:
		h.Verdict, h.ProofSeq = assess.Repaired, w.proof
	case w.mended != nil && w.condemned(w.mended):
		h.Verdict = assess.NotWorth
	case len(w.fitted) > 0:
		h.Verdict = assess.Repaired
	}
	return h
}
