package authoring

import (
	"context"
	"math/rand/v2"
	"slices"
	"strings"
	"sync"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/machine"
	"zanjero/core/reading"
	"zanjero/core/scenario"
	"zanjero/core/setup"
)

// Step is one thing that a tester did: a test with what it showed, or work.
type Step struct {
	Test    string `json:"test,omitempty"`
	Outcome string `json:"outcome,omitempty"`
	Repair  string `json:"repair,omitempty"`
	Reach   string `json:"reach,omitempty"`
	// Minutes that it took, covers, precautions and waiting among them.
	Minutes float64 `json:"minutes"`
	// Proof: it was made to show whether the complaint is gone.
	Proof bool `json:"proof,omitempty"`
}

// Worked is how a tester got on with a job.
type Worked struct {
	Path []Step
	// Reaches is how surely each fault that was mended was known before the work, the
	// least of them; or, where not all were found, how surely what is left is known.
	Reaches float64
	// Solved: every fault that the complaint comes from is mended, and the proof shows it.
	Solved         bool
	Minutes, Money float64
	// Thought are the sets of faults that were thought of on the way, with how likely each
	// was at its likeliest once a first test was made.
	Thought []diagnosis.Set
}

const (
	// sure is when a tester concludes: nine in ten for what one repair mends.
	sure = 0.90
	// tellsLittle is the worth of a test, in bits, below which it is not made any more;
	// worthTrying is how likely what a repair mends must be that is then tried.
	tellsLittle = 0.01
	worthTrying = 0.15
	// condemnShare is the share of a machine's worth from which work on it wants a reading
	// that is repeated and another that is independent (common practice; size chosen by us).
	condemnShare = 0.5
	// mostTries is how often the same work is done, since it can fail.
	mostTries = 2
	// mostSteps ends a job that goes round in circles.
	mostSteps = 60
	// leastThought is how likely a set must have been to have been thought of.
	leastThought = 0.02
)

// tester works a job as somebody competent would who keeps the whole belief: always the
// test that tells most bits for its minutes, until what one repair mends is nine tenths
// sure; then that repair, and the proof. Where nothing tells any more, the likeliest
// repair is tried. It knows nothing of what is hidden.
type tester struct {
	sc      *scenario.Scenario
	st      *diagnosis.Standing
	ses     *bench.Session
	cat     *catalogue.Catalogue
	repairs []catalogue.Repair
	luck    *rand.Rand // whether work takes; nil for always
	made    map[string]bool
	read    map[string]int // how often each test was made on the machine as it is
	tried   map[string]int // how often, by kind of work and reach
	thought map[string]float64
	sets    map[string][]string
	policy  *policy
	met     string // tests with their outcomes and work so far, as a key
	out     Worked
}

// Work has a competent tester work a job on its machine, with the belief that the job
// begins with, which is used up. With noise, readings, attempts and work vary by a seed.
// The error is the context's.
func Work(ctx context.Context, sc *scenario.Scenario, st *diagnosis.Standing, noise bool, seed uint64) (*Worked, error) {
	return work(ctx, sc, st, noise, seed, newPolicy())
}

func work(ctx context.Context, sc *scenario.Scenario, st *diagnosis.Standing, noise bool, seed uint64, p *policy) (*Worked, error) {
	ses, err := sc.Master(noise, seed)
	if err != nil {
		return nil, err
	}
	w := &tester{sc: sc, st: st, ses: ses, cat: sc.Figures(), repairs: properRepairs(sc), policy: p,
		made: map[string]bool{}, read: map[string]int{}, tried: map[string]int{},
		thought: map[string]float64{}, sets: map[string][]string{}}
	if noise {
		w.luck = rand.New(rand.NewPCG(seed, 0x7e57))
	}
	w.out.Reaches = 1
	for range mostSteps {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		done, err := w.step(ctx)
		if err != nil {
			return nil, err
		}
		if done {
			break
		}
	}
	if !w.out.Solved {
		w.out.Reaches = min(w.out.Reaches, w.known(w.left()))
	}
	for _, id := range ses.Open() { // as it came
		ses.Cover(id, false)
	}
	w.out.Minutes, w.out.Money = ses.Minutes(), ses.Money()
	for key, p := range w.thought {
		w.out.Thought = append(w.out.Thought, diagnosis.Set{Faults: w.sets[key], P: p})
	}
	return &w.out, nil
}

// properRepairs are the kinds of work on this engine that are not makeshift.
func properRepairs(sc *scenario.Scenario) (out []catalogue.Repair) {
	cat := sc.Figures()
	for _, r := range cat.Repairs.Entries {
		if act := cat.RepairAct(r.Act); !act.Improvised() && act.On(sc.Family, r.Reach) {
			out = append(out, r)
		}
	}
	return out
}

// decision is what is done next: a test, or a kind of work, or nothing any more.
type decision struct {
	test   string
	repair *catalogue.Repair
}

// policy are the decisions of testers on one job, by what they have met so far: whoever has
// met the same does the same. It may be used from any goroutine.
type policy struct {
	mu    sync.Mutex
	known map[string]decision
}

func newPolicy() *policy { return &policy{known: map[string]decision{}} }

// step does the next thing, and says whether there is no more to do.
func (w *tester) step(ctx context.Context) (done bool, err error) {
	w.policy.mu.Lock()
	d, known := w.policy.known[w.met]
	w.policy.mu.Unlock()
	if !known {
		d = w.decide()
		w.policy.mu.Lock()
		w.policy.known[w.met] = d
		w.policy.mu.Unlock()
	}
	switch {
	case d.repair != nil:
		return w.mend(ctx, d.repair)
	case d.test != "":
		w.take(d.test, nil, false)
		if w.luck == nil {
			w.think()
		}
		return false, nil
	}
	return true, nil
}

// work is what work would come to where the tester stands.
func (w *tester) work() *costing { return &costing{w.sc, w.st, w.ses.Open(), w.repairs} }

// decide finds what to do next by what is believed.
func (w *tester) decide() decision {
	if r := w.repair(sure); r != nil {
		if w.condemns(r) {
			if id := w.measure(r); id != "" {
				return decision{test: id}
			}
		}
		if id, saved := w.work().testFirst(w.work().minutes(r), w.may); saved > WorthSaving {
			return decision{test: id}
		}
		return decision{repair: r}
	}
	for _, x := range w.st.Rank(diagnosis.Weights{}, w.ses.Open(), w.may) {
		if x.Bits >= tellsLittle {
			return decision{test: x.Test}
		}
	}
	return decision{repair: w.repair(worthTrying)}
}

// condemns says that work costs so much of what the machine is worth that the engine is as
// good as condemned by it.
func (w *tester) condemns(r *catalogue.Repair) bool {
	return w.work().cost(r)*r.Success > condemnShare*w.sc.Sheet["worth_money"].Middle()
}

// measure is the next reading that condemning asks for: one of the part in figures, that
// reading again, and an independent one; "" where they are made, or none is there.
func (w *tester) measure(r *catalogue.Repair) (next string) {
	least, kinds := 0.0, 0
	for _, t := range w.sc.Tests() {
		if t.Kind != catalogue.KindNumber || !slices.Contains(t.Reaches, r.Reach) {
			continue
		}
		if n := w.read[t.ID]; n > 0 {
			if kinds++; n == 1 && kinds == 1 {
				next = t.ID
				break
			}
			continue
		}
		if next == "" || t.Minutes < least {
			next, least = t.ID, t.Minutes
		}
	}
	if kinds >= 2 {
		return ""
	}
	return next
}

// may says that a test is worth thinking of: it can be made here, and has not been made on
// the machine as it is. Owners are heard at the beginning.
func (w *tester) may(id string) bool {
	t := w.cat.Test(id)
	return !w.made[id] && w.sc.InKit(t) && id != reading.AskHistory
}

// take makes a test, with the precautions that it asks for.
func (w *tester) take(id string, own map[string]any, proof bool) bench.Observation {
	began := w.ses.Minutes()
	t := w.ses.TestOf(id)
	w.ses.OpenFor(t)
	w.ses.PutBackFor(id)
	if proof { // shown as it is handed back: closed up, and with nothing lying about
		off, _ := setup.AccessOf(t)
		for _, id := range w.ses.Open() {
			w.ses.Cover(id, slices.Contains(off, id))
		}
		if w.ses.Machine().State().SpiltML > 1 {
			w.ses.Do("wipe-spill")
		}
	}
	for _, p := range w.ses.Owing(t) {
		switch p {
		case "lead-clear", "block-driven": // and undone again after it
			w.ses.Wait(w.cat.Action(p).Minutes)
		case "leak-mended":
		default:
			w.ses.Do(p)
		}
	}
	o := w.ses.Test(id, own)
	s := Step{Test: id, Outcome: scenario.Tell(o).Plain(), Proof: proof, Minutes: w.ses.Minutes() - began}
	told := s.Outcome
	if !proof {
		if w.read[id]++; !w.made[id] { // the same again tells next to nothing more
			told = w.st.Take(id, &o)
		}
		w.made[id] = true
	}
	w.met += id + "=" + told + ";"
	w.out.Path = append(w.out.Path, s)
	return o
}

// think notes what is thought of now.
func (w *tester) think() {
	for _, s := range w.st.Sets() {
		if s.P < leastThought {
			return
		}
		key := keyOf(s.Faults)
		w.thought[key], w.sets[key] = max(w.thought[key], s.P), s.Faults
	}
}

// repair is the work that mends something as likely as asked: of those, the least costly;
// nil for none.
func (w *tester) repair(likely float64) *catalogue.Repair {
	var best *catalogue.Repair
	least := 0.0
	for i := range w.repairs {
		r := &w.repairs[i]
		p := w.st.Any(r.Mends)
		if p < likely || w.tried[r.Act+" "+r.Reach] >= mostTries {
			continue
		}
		cost := w.work().cost(r) / p
		if likely < sure { // tried on a chance: the likeliest comes first
			cost /= p
		}
		if best == nil || cost < least {
			best, least = r, cost
		}
	}
	return best
}

// mend does some work and tries whether the complaint is gone.
func (w *tester) mend(ctx context.Context, r *catalogue.Repair) (done bool, err error) {
	began, before := w.ses.Minutes(), w.left()
	known := w.st.Any(r.Mends)
	took := w.luck == nil || w.luck.Float64() < r.Success
	if took && w.control(r) {
		w.ses.Wait(r.Minutes)
	} else {
		w.ses.RepairAs(*r, took, bench.Likely)
	}
	w.out.Path = append(w.out.Path, Step{Repair: r.Act, Reach: r.Reach, Minutes: w.ses.Minutes() - began})
	w.tried[r.Act+" "+r.Reach]++
	w.met += r.Act + " " + r.Reach + ";"
	left := w.left()
	if len(left) < len(before) {
		w.out.Reaches = min(w.out.Reaches, known)
	}
	c := w.sc.Complaint()
	own := c.Claim.Setup
	if m := w.sc.ProofMinutes(); m > 0 {
		own = map[string]any{"minutes": m, "load": "test"}
	}
	o := w.take(c.Claim.Test, own, true)
	bad := w.sc.Bad(&o)
	if !bad || len(left) == 0 {
		w.out.Solved = !bad && len(left) == 0
		return true, nil
	}
	w.st.Repaired(r.Mends, r.Success)
	w.made, w.read = map[string]bool{}, map[string]int{} // it is another machine now
	return false, w.st.Still(ctx, w.sc.Claim, true)
}

// control does work that is no more than a control put right.
func (w *tester) control(r *catalogue.Repair) bool {
	m := w.ses.Machine()
	switch {
	case slices.Contains(r.Mends, "switch-off") && m.FoundInStop():
		m.Mend("switch-off")
	case slices.Contains(r.Mends, "valve-shut") && m.FoundShut():
		m.Mend("valve-shut")
	default:
		return false
	}
	return true
}

// left are the faults that the complaint comes from and that are still in the machine.
func (w *tester) left() (out []string) {
	for _, f := range w.sc.Faults {
		if slices.ContainsFunc(w.ses.Machine().Faults(), func(o machine.FaultSpec) bool { return o.ID == f.ID }) {
			out = append(out, f.ID)
		}
	}
	return out
}

// known is how surely some faults are known, each with what the same work mends; the least
// of them.
func (w *tester) known(faults []string) float64 {
	least := 1.0
	for _, f := range faults {
		best := 0.0
		for i := range w.repairs {
			if slices.Contains(w.repairs[i].Mends, f) && w.repairs[i].Act != "replace" {
				best = max(best, w.st.Any(w.repairs[i].Mends))
			}
		}
		least = min(least, max(best, w.st.Any([]string{f})))
	}
	return least
}

func keyOf(faults []string) string { return strings.Join(faults, "+") }
