package procedure

import (
	"cmp"
	"context"
	"math"
	"slices"

	"zanjero/core/parallel"
)

// End is one place where a hypothesis ends.
type End struct {
	Step    string   `json:"step"`
	Faults  []string `json:"faults,omitempty"`
	Level   string   `json:"level"`
	P       float64  `json:"p"`
	Minutes float64  `json:"minutes"`
}

// Link is a way from one step to another, by their places, and how likely a
// hypothesis goes it. From is −1 where it comes in; To is the number of steps where the
// list runs out.
type Link struct {
	From int     `json:"from"`
	To   int     `json:"to"`
	P    float64 `json:"p"`
}

// Fate is what becomes of one hypothesis: a fault in a mode with its severity
// integrated, or a sound machine (no fault).
type Fate struct {
	Fault string  `json:"fault"`
	Mode  string  `json:"mode,omitempty"`
	Prior float64 `json:"prior"`
	// Minutes and Money are expected, Worst is the longest way that has at least
	// one chance in a hundred; where many rarer ways are longer, what is expected.
	Minutes float64 `json:"minutes"`
	Money   float64 `json:"money"`
	Worst   float64 `json:"worst_minutes"`
	// Path is the likeliest way, by step.
	Path   []string           `json:"path"`
	Ends   []End              `json:"ends"`
	Levels map[string]float64 `json:"levels"`
	// Links are the ways that it goes, in order. What comes to a step by them goes on by
	// them or ends there: their widths add up at every step.
	Links []Link `json:"links"`
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
	// Outcomes are the prior mass of each, in the step's order, and last of none that fits.
	Outcomes []float64 `json:"outcomes"`
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
	Findings   []Remark     `json:"findings"`
}

// Evaluate follows a procedure with every machine of the population, with the
// noise of readings and attempts. The procedure must be one for the family that
// Check has nothing serious against. The error is the context's; what was
// followed until then is kept for the next time. One goroutine at a time may use
// a population.
func (pop *Population) Evaluate(ctx context.Context, proc *Procedure) (*Evaluation, error) {
	if pop.kept.Load() > mostKept {
		for i := range pop.specimens {
			pop.specimens[i].root.next = nil
		}
		pop.kept.Store(0)
	}
	p := pop.plan(proc.For(pop.family, pop.sheet))
	walks := make([]*walk, len(pop.specimens))
	if err := parallel.For(ctx, len(walks), func(i int) { walks[i] = p.follow(&pop.specimens[i]) }); err != nil {
		return nil, err
	}
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
	return out, nil
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
	links := map[[2]int]float64{}
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
			last := -1
			for _, s := range e.path {
				links[[2]int{last, s}] += q
				last = s
			}
			if e.step == len(p.Steps) {
				links[[2]int{last, e.step}] += q
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
	f.Worst = max(f.Worst, f.Minutes)
	for _, at := range order {
		e := ends[at]
		e.Minutes /= e.P
		f.Ends = append(f.Ends, *e)
	}
	slices.SortStableFunc(f.Ends, func(a, b End) int {
		return cmp.Compare(b.P, a.P)
	})
	for way, p := range links {
		f.Links = append(f.Links, Link{way[0], way[1], p})
	}
	slices.SortFunc(f.Links, func(a, b Link) int { return cmp.Or(cmp.Compare(a.From, b.From), cmp.Compare(a.To, b.To)) })
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
		s.Outcomes = total
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
