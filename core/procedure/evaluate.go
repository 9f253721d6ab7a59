package procedure

import (
	"fmt"
	"math"
	"slices"
	"sync/atomic"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/parallel"
)

// Levels at which an end is right, and the other ways to end. Shares of them
// sum to one.
const (
	AtPart     = "part"       // one fault is concluded, and it is that
	AtReach    = "reach"      // the fault is among those concluded, all of its reach; or its reach is
	AtLateral  = "lateral"    // the same for its lateral
	AtGroup    = "group"      // it is among those concluded, of several laterals
	Wrong      = "wrong"      // something else is concluded
	DeadEnd    = "dead_end"   // something was noticed, and the steps ran out
	Undetected = "undetected" // every step went as on a sound machine
	Referred   = "referred"   // it is handed on
	Sound      = "sound"      // nothing is wrong, and nothing was concluded
)

// Levels in order, the best first.
var Levels = []string{AtPart, AtReach, AtLateral, AtGroup, Referred, Sound, Undetected, DeadEnd, Wrong}

// End is one place where a hypothesis ends.
type End struct {
	Step    string   `json:"step"`
	Faults  []string `json:"faults,omitempty"`
	Level   string   `json:"level"`
	P       float64  `json:"p"`
	Minutes float64  `json:"minutes"`
}

// Fate is what becomes of one hypothesis: a fault in a mode with its severity
// integrated, or a sound machine (no fault).
type Fate struct {
	Fault string  `json:"fault"`
	Mode  string  `json:"mode,omitempty"`
	Prior float64 `json:"prior"`
	// Minutes and Money are expected, Worst is the longest way that has at least
	// one chance in a hundred.
	Minutes float64 `json:"minutes"`
	Money   float64 `json:"money"`
	Worst   float64 `json:"worst_minutes"`
	// Path is the likeliest way, by step.
	Path   []string           `json:"path"`
	Ends   []End              `json:"ends"`
	Levels map[string]float64 `json:"levels"`
	// Detected and Isolated are, by step, how likely the fault is first noticed
	// and rightly concluded there: a row of the heat table.
	Detected []float64 `json:"detected"`
	Isolated []float64 `json:"isolated"`
}

// StepFigure is what one step does for the population.
type StepFigure struct {
	ID string `json:"id"`
	// Reached is the prior mass that comes to it, Bits what it tells of that.
	Reached  float64 `json:"reached"`
	Bits     float64 `json:"bits"`
	Detected float64 `json:"detected"`
	Isolated float64 `json:"isolated"`
}

// Totals are figures of the whole population.
type Totals struct {
	Levels          map[string]float64 `json:"levels"`
	ExpectedMinutes float64            `json:"expected_minutes"`
	WorstMinutes    float64            `json:"worst_minutes"`
	ExpectedMoney   float64            `json:"expected_money"`
	// Groups are the sets of faults that come to the same end, by mean size over
	// the mass and by the largest.
	MeanGroup    float64 `json:"mean_group"`
	LargestGroup int     `json:"largest_group"`
	// Lost is the mass of ways too unlikely to be followed; the rest was scaled
	// up for it.
	Lost float64 `json:"lost"`
}

// Evaluation is what a procedure costs and finds on one engine's population.
type Evaluation struct {
	Procedure  string       `json:"procedure"`
	Revision   int          `json:"revision"`
	Family     string       `json:"family"`
	Hypotheses []Fate       `json:"hypotheses"`
	Steps      []StepFigure `json:"steps"`
	Totals     Totals       `json:"totals"`
	Findings   []Finding    `json:"findings"`
}

// Limits of a walk: ways less likely than leastWay are not followed, a way is cut
// off after longestWay steps, and one machine makes at most mostTries steps in
// all. What is not followed is reported as lost.
const (
	leastWay   = 2e-3
	longestWay = 150
	mostTries  = 1500
)

// mostKept is how many steps made by machines a population remembers, together;
// then it forgets them all and begins anew.
const mostKept = 250_000

// Population is the machines that procedures are tried on. It remembers what
// each machine did at each step of what was tried, so that trying a procedure
// again after an edit works out only what the edit touches. It is not safe for
// use by several goroutines at once.
type Population struct {
	family    string
	sheet     catalogue.Sheet
	specimens []specimen
	healthy   int
	kept      atomic.Int64 // steps made and remembered
}

type specimen struct {
	diagnosis.Specimen
	root *state
}

// state is a machine after some steps, with what the steps tried from here
// came to.
type state struct {
	bench *bench.Session
	next  map[string][]edge
}

type edge struct {
	p    float64
	told *bench.Prediction
	to   *state
}

// NewPopulation makes the machines of a job, weighted by an owner's complaint
// where one is made.
func NewPopulation(j diagnosis.Job, complaint diagnosis.Claim) (*Population, error) {
	pop, err := diagnosis.NewPopulation(j, nil)
	if err != nil {
		return nil, err
	}
	out := &Population{family: j.Family, sheet: j.Sheet}
	for _, s := range pop.Specimens(complaint) {
		out.specimens = append(out.specimens, specimen{s, &state{bench: s.Bench}})
	}
	out.healthy = slices.IndexFunc(out.specimens, func(s specimen) bool { return s.Fault.ID == "" })
	return out, nil
}

// Size is the number of machines.
func (pop *Population) Size() int { return len(pop.specimens) }

// key names what a step does, so that what came of it is found again.
func (s *Step) key() string {
	return fmt.Sprint(s.Precautions, s.Repair, s.Reach, s.Test, s.Setup) // maps print in order
}

// try makes a step from a state, or finds what was made of it before.
func (pop *Population) try(st *state, s *Step, key string) []edge {
	if known, ok := st.next[key]; ok {
		return known
	}
	at := []bench.Branch{{P: 1, After: st.bench.Clone()}}
	for _, id := range s.Precautions {
		at[0].After.Do(id)
	}
	if s.Repair != "" {
		at = at[0].After.RepairOutlook(s.Repair, s.Reach)
	}
	var out []edge
	for _, from := range at {
		from.After.PutBackFor(s.Test)
		for _, b := range from.After.Outlook(s.Test, s.Setup) {
			out = append(out, edge{from.P * b.P, b.Told, &state{bench: b.After}})
		}
	}
	if st.next == nil {
		st.next = map[string][]edge{}
	}
	st.next[key] = out
	pop.kept.Add(1)
	return out
}

// walk is what following a procedure with one machine comes to.
type walk struct {
	ends               []walked
	detected, isolated []float64
	outcomes           [][]float64 // mass by step and outcome
	ended, lost        float64
}

type walked struct {
	step, outcome int // step is len for the end of the list, outcome −1 for none
	level         string
	p, minutes    float64
	money         float64
	path          []int
}

// plan is a procedure made ready for walking.
type plan struct {
	*Procedure
	pop   *Population
	tests []*catalogue.Test
	keys  []string
	sheet catalogue.Sheet
	// usual is the likeliest outcome of each step on a sound machine, −1 where
	// it does not come.
	usual []int
}

func (pop *Population) plan(p *Procedure) *plan {
	out := &plan{Procedure: p, pop: pop, sheet: pop.sheet}
	for i := range p.Steps {
		s := &p.Steps[i]
		out.tests = append(out.tests, catalogue.Standard().TestFor(pop.family, pop.sheet, s.Test))
		out.keys = append(out.keys, s.key())
	}
	out.usual = slices.Repeat([]int{-1}, len(p.Steps))
	sound := out.follow(&pop.specimens[pop.healthy])
	for i, mass := range sound.outcomes {
		best := 0.0
		for o, m := range mass {
			if m > best {
				out.usual[i], best = o, m
			}
		}
	}
	return out
}

// follow goes every way that a machine can take.
func (p *plan) follow(sp *specimen) *walk {
	w := &walk{detected: make([]float64, len(p.Steps)), isolated: make([]float64, len(p.Steps)), outcomes: make([][]float64, len(p.Steps))}
	for i := range p.Steps {
		w.outcomes[i] = make([]float64, len(p.Steps[i].Outcomes)+1)
	}
	tries := 0
	var onward func(at *state, i int, prob float64, noticed bool, path []int)
	onward = func(at *state, i int, prob float64, noticed bool, path []int) {
		if i < 0 || i >= len(p.Steps) || len(path) >= longestWay {
			level := DeadEnd
			switch {
			case sp.Fault.ID == "" && len(path) < longestWay:
				level = Sound
			case !noticed:
				level = Undetected
			}
			w.end(at, len(p.Steps), -1, level, prob, path)
			return
		}
		if tries++; tries > mostTries {
			w.lost += prob
			return
		}
		s := &p.Steps[i]
		path = append(slices.Clone(path), i)
		for _, e := range p.pop.try(at, s, p.keys[i]) {
			var ways []way
			for o, chance := range s.match(p.tests[i], p.sheet, e.told) {
				q := prob * e.p * chance
				if q < leastWay {
					w.lost += q
					continue
				}
				w.outcomes[i][o] += q
				seen := noticed
				if !seen && o != p.usual[i] {
					w.detected[i] += q
					seen = true
				}
				if o == len(s.Outcomes) { // no way on
					level := DeadEnd
					if sp.Fault.ID == "" {
						level = Sound
					}
					w.end(e.to, i, -1, level, q, path)
					continue
				}
				out := &s.Outcomes[o]
				switch out.Then {
				case Conclude, Stop:
					level := out.level(sp.Fault.ID)
					if level == AtPart || level == AtReach {
						w.isolated[i] += q
					}
					w.end(e.to, i, o, level, q, path)
				default:
					ways = join(ways, way{p.after(i, out), seen, q})
				}
			}
			for _, on := range ways {
				onward(e.to, on.to, on.p, on.seen, path)
			}
		}
	}
	onward(sp.root, 0, 1, false, nil)
	if len(w.ends) == 0 { // nothing could be followed to its end
		w.end(sp.root, len(p.Steps), -1, DeadEnd, 1, nil)
	}
	for _, e := range w.ends {
		w.ended += e.p
	}
	return w
}

// way is where a machine goes on from a step. Outcomes that go on alike go on
// together.
type way struct {
	to   int
	seen bool
	p    float64
}

func join(ways []way, w way) []way {
	for i := range ways {
		if ways[i].to == w.to && ways[i].seen == w.seen {
			ways[i].p += w.p
			return ways
		}
	}
	return append(ways, w)
}

func (w *walk) end(at *state, step, outcome int, level string, p float64, path []int) {
	w.ends = append(w.ends, walked{step, outcome, level, p, at.bench.Minutes(), at.bench.Money(), path})
}

// level says how right an outcome that ends the procedure is for a fault.
func (o *Outcome) level(fault string) string {
	if o.Then == Stop {
		if fault == "" {
			return Sound
		}
		return Referred
	}
	def := catalogue.Standard().Fault(fault)
	if def == nil {
		return Wrong
	}
	cat := catalogue.Standard()
	reach, lateral := o.Reach, o.Lateral
	sameReach, sameLateral := reach != "", lateral != ""
	if len(o.Faults) > 0 {
		first := cat.Reach(cat.Fault(o.Faults[0]).Reach)
		reach, lateral, sameReach, sameLateral = first.ID, first.Lateral, true, true
		for _, id := range o.Faults {
			r := cat.Reach(cat.Fault(id).Reach)
			sameReach, sameLateral = sameReach && r.ID == reach, sameLateral && r.Lateral == lateral
		}
	} else if reach != "" {
		lateral, sameLateral = cat.Reach(reach).Lateral, true
	}
	in := slices.Contains(o.Faults, fault)
	switch {
	case in && len(o.Faults) == 1:
		return AtPart
	case sameReach && reach == def.Reach:
		return AtReach
	case sameLateral && lateral == cat.Reach(def.Reach).Lateral:
		return AtLateral
	case in:
		return AtGroup
	}
	return Wrong
}

// Evaluate follows a procedure with every machine of the population, with the
// noise of readings and attempts. The procedure must be one for the family that
// Check has nothing serious against.
func (pop *Population) Evaluate(proc *Procedure) *Evaluation {
	if pop.kept.Load() > mostKept {
		for i := range pop.specimens {
			pop.specimens[i].root.next = nil
		}
		pop.kept.Store(0)
	}
	p := pop.plan(proc.For(pop.family, pop.sheet))
	walks := make([]*walk, len(pop.specimens))
	parallel.For(len(walks), func(i int) { walks[i] = p.follow(&pop.specimens[i]) })
	out := &Evaluation{Procedure: p.ID, Revision: p.Revision, Family: pop.family, Totals: Totals{Levels: map[string]float64{}}}
	for from := 0; from < len(walks); {
		to := from + 1
		for to < len(walks) && pop.specimens[to].Fault.ID == pop.specimens[from].Fault.ID && pop.specimens[to].Fault.Mode == pop.specimens[from].Fault.Mode {
			to++
		}
		out.Hypotheses = append(out.Hypotheses, pop.fate(p, walks, from, to))
		from = to
	}
	groups := out.sum(p, walks, pop)
	out.Findings = slices.Concat(p.Check(pop.family, pop.sheet), out.useless(), out.unproved(p, groups))
	return out
}

// fate puts the walks of one hypothesis's severities together.
func (pop *Population) fate(p *plan, walks []*walk, from, to int) Fate {
	f := Fate{Fault: pop.specimens[from].Fault.ID, Mode: pop.specimens[from].Fault.Mode, Levels: map[string]float64{}, Path: []string{}, Ends: []End{},
		Detected: make([]float64, len(p.Steps)), Isolated: make([]float64, len(p.Steps))}
	for i := from; i < to; i++ {
		f.Prior += pop.specimens[i].Weight
	}
	type place struct {
		step, outcome int
		level         string
	}
	ends := map[place]*End{}
	var order []place
	likeliest := 0.0
	for i := from; i < to; i++ {
		w := walks[i]
		share := pop.specimens[i].Weight / f.Prior
		scale := share / w.ended
		for _, e := range w.ends {
			q := e.p * scale
			f.Minutes += q * e.minutes
			f.Money += q * e.money
			f.Levels[e.level] += q
			if e.p >= 0.01 {
				f.Worst = max(f.Worst, e.minutes)
			}
			if q > likeliest {
				likeliest = q
				f.Path = f.Path[:0]
				for _, s := range e.path {
					f.Path = append(f.Path, p.Steps[s].ID)
				}
			}
			at := place{e.step, e.outcome, e.level}
			if ends[at] == nil {
				ends[at] = &End{Level: e.level}
				if e.step < len(p.Steps) {
					ends[at].Step = p.Steps[e.step].ID
					if e.outcome >= 0 {
						ends[at].Faults = p.Steps[e.step].Outcomes[e.outcome].Faults
					}
				}
				order = append(order, at)
			}
			ends[at].P += q
			ends[at].Minutes += q * e.minutes
		}
		for k := range p.Steps {
			f.Detected[k] += scale * w.detected[k]
			f.Isolated[k] += scale * w.isolated[k]
		}
	}
	for _, at := range order {
		e := ends[at]
		e.Minutes /= e.P
		f.Ends = append(f.Ends, *e)
	}
	slices.SortStableFunc(f.Ends, func(a, b End) int {
		switch {
		case a.P > b.P:
			return -1
		case a.P < b.P:
			return 1
		}
		return 0
	})
	return f
}

// sum works the totals and the figures of the steps out, and gives what mass of
// each fault comes to each end, by step and outcome.
func (e *Evaluation) sum(p *plan, walks []*walk, pop *Population) map[[2]int]map[string]float64 {
	t := &e.Totals
	groups := map[[2]int]map[string]float64{}
	for _, f := range e.Hypotheses {
		t.ExpectedMinutes += f.Prior * f.Minutes
		t.ExpectedMoney += f.Prior * f.Money
		t.WorstMinutes = max(t.WorstMinutes, f.Worst)
		for _, level := range Levels {
			t.Levels[level] += f.Prior * f.Levels[level]
		}
	}
	for i, w := range walks {
		t.Lost += pop.specimens[i].Weight * w.lost
		for _, end := range w.ends {
			at := [2]int{end.step, end.outcome}
			if groups[at] == nil {
				groups[at] = map[string]float64{}
			}
			groups[at][pop.specimens[i].Fault.ID] += pop.specimens[i].Weight * end.p
		}
	}
	priors := map[string]float64{}
	for _, f := range e.Hypotheses {
		priors[f.Fault] += f.Prior
	}
	for k := 0; k <= len(p.Steps); k++ { // in order, so that sums come out the same
		outcomes := 0
		if k < len(p.Steps) {
			outcomes = len(p.Steps[k].Outcomes)
		}
		for o := -1; o < outcomes; o++ {
			size, mass := 0, 0.0
			for _, f := range faultsOf(e.Hypotheses) {
				if m := groups[[2]int{k, o}][f]; m > 0.05*priors[f] {
					size++
					mass += m
				}
			}
			t.MeanGroup += mass * float64(size)
			t.LargestGroup = max(t.LargestGroup, size)
		}
	}
	for k := range p.Steps {
		s := StepFigure{ID: p.Steps[k].ID}
		n := len(p.Steps[k].Outcomes) + 1
		total := make([]float64, n)
		within := 0.0
		for from := 0; from < len(walks); {
			mass := make([]float64, n)
			to := from
			for ; to < len(walks) && pop.specimens[to].Fault.ID == pop.specimens[from].Fault.ID; to++ {
				for o, m := range walks[to].outcomes[k] {
					mass[o] += pop.specimens[to].Weight * m
				}
			}
			for o, m := range mass {
				total[o] += m
			}
			within += entropy(mass)
			from = to
		}
		for _, m := range total {
			s.Reached += m
		}
		s.Bits = max(entropy(total)-within, 0)
		for _, f := range e.Hypotheses {
			s.Detected += f.Prior * f.Detected[k]
			s.Isolated += f.Prior * f.Isolated[k]
		}
		e.Steps = append(e.Steps, s)
	}
	return groups
}

// entropy of some masses in bits, times their sum. Source: Shannon 1948.
func entropy(masses []float64) (bits float64) {
	sum := 0.0
	for _, m := range masses {
		sum += m
	}
	for _, m := range masses {
		if m > 0 {
			bits += m * math.Log2(sum/m)
		}
	}
	return bits
}
