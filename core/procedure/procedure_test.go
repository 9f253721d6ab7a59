package procedure

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/machine"
)

func job(family string) diagnosis.Job {
	return diagnosis.Job{Family: family, Sheet: catalogue.Standard().Family(family).Sheet, Ambient: machine.Ambient{TemperatureC: 20}}
}

func population(t *testing.T, family string, c diagnosis.Claim) *Population {
	pop, err := NewPopulation(job(family), c)
	require.NoError(t, err)
	return pop
}

func school(t *testing.T, id string) *Procedure {
	for _, p := range Schools().Expand() {
		if p.ID == id {
			return &p
		}
	}
	t.Fatal(id)
	return nil
}

// play follows a procedure once on a noisy machine, as somebody would who makes
// no slip.
func play(t *testing.T, p *Procedure, family string, faults []machine.FaultSpec, seed uint64) (level string, minutes float64) {
	j := job(family)
	s, err := bench.NewSession(family, j.Sheet, j.Ambient, faults, bench.Options{Technique: bench.Ideal, Noise: true, Seed: seed, FuelML: -1})
	require.NoError(t, err)
	for i := 0; i >= 0 && i < len(p.Steps); {
		st := &p.Steps[i]
		for _, id := range st.Precautions {
			s.Do(id)
		}
		if st.Repair != "" {
			s.Repair(st.Repair, st.Reach, bench.GradeMaker)
		}
		s.PutBackFor(st.Test)
		o := s.Test(st.Test, st.Setup)
		k := st.read(catalogue.Standard().TestFor(family, j.Sheet, st.Test), j.Sheet, &o)
		if k < 0 {
			return DeadEnd, s.Minutes()
		}
		if out := &st.Outcomes[k]; out.Then == Conclude || out.Then == Stop {
			fault := ""
			if len(faults) > 0 {
				fault = faults[0].ID
			}
			return out.level(fault), s.Minutes()
		}
		i = p.after(i, &st.Outcomes[k])
	}
	return DeadEnd, s.Minutes()
}

// read finds the outcome of a step that an observation belongs to, or −1. It
// knows nothing of probabilities.
func (s *Step) read(t *catalogue.Test, sheet catalogue.Sheet, o *bench.Observation) int {
	rest := -1
	for i := range s.Outcomes {
		for _, w := range s.Outcomes[i].When {
			switch {
			case w == Otherwise:
				rest = i
			case o.Word != nil && *o.Word == w, w == OverLimit && o.Over():
				return i
			}
		}
		if o.Value != nil {
			for _, span := range s.Outcomes[i].spans(t, sheet) {
				if *o.Value >= span[0] && *o.Value < span[1] {
					return i
				}
			}
		}
	}
	return rest
}

func TestMonte(t *testing.T) {
	for _, id := range []string{"look-first", "dose-first"} {
		for _, fault := range []machine.FaultSpec{{}, {ID: "main-jet-blocked", Severity: 0.9}, {ID: "recoil-broken", Severity: 1}, {ID: "rings-worn", Severity: 0.9}, {ID: "coil-weak", Severity: 0.8}, {ID: "cap-vent-blocked", Severity: 0.98}} {
			p := school(t, id).For("f4-bowl", job("f4-bowl").Sheet)
			var faults []machine.FaultSpec
			if fault.ID != "" {
				faults = append(faults, fault)
			}
			const n = 300
			sum, sq := 0.0, 0.0
			levels := map[string]float64{}
			for i := range n {
				l, m := play(t, p, "f4-bowl", faults, uint64(i+1))
				sum, sq = sum+m, sq+m*m
				levels[l] += 1.0 / n
			}
			mean := sum / n
			se := math.Sqrt((sq/n - mean*mean) / n)
			j := job("f4-bowl")
			b, err := bench.NewSession("f4-bowl", j.Sheet, j.Ambient, faults, bench.Options{Technique: bench.Ideal, FuelML: -1})
			require.NoError(t, err)
			pop := &Population{family: "f4-bowl", sheet: j.Sheet, specimens: []specimen{{diagnosis.Specimen{Fault: fault, Weight: 1, Bench: b}, &state{bench: b}}}}
			e := pop.Evaluate(p)
			fmt.Printf("%s %s: MC %.1f±%.1f formula %.1f\n   %v\n   %v\n", id, fault.ID, mean, se, e.Totals.ExpectedMinutes, levels, e.Hypotheses[0].Levels)
		}
	}
	assert.True(t, true)
}
