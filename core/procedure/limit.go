package procedure

import (
	"context"
	"math/rand/v2"
	"slices"

	"zanjero/core/parallel"
)

// Limit is what it comes to when a belief is followed on many machines: minutes of
// tests, covers and precautions, as a page's are, and the share that ends with the fault
// itself, with a wrong one, or with nothing.
type Limit struct {
	Minutes float64 `json:"minutes"`
	Right   float64 `json:"right"` // the fault itself
	Wrong   float64 `json:"wrong"`
	Open    float64 `json:"open"`
}

// leastBits is what a test must tell for a belief to go on by it.
const leastBits = 1e-3

// ByBelief follows, on runs machines drawn from the population by a seed, whoever keeps
// the whole belief: always the test that tells most bits for its minutes, until one
// fault is believed to a share of surely, or nothing tells any more. No page can do
// that; it is the practical limit of one. Answers are as on a machine that nothing was
// done to, and a test is made once. The error is the context's.
func (pop *Population) ByBelief(ctx context.Context, surely float64, runs int, seed uint64) (Limit, error) {
	s, err := pop.search(ctx, PageSpec{})
	if err != nil {
		return Limit{}, err
	}
	b := s.believer(surely)
	r := rand.New(rand.NewPCG(seed, 0xbe11))
	var out Limit
	for range runs {
		if err := parallel.Pause(ctx); err != nil {
			return Limit{}, err
		}
		h := drawn(r, s.weight)
		minutes, named := b.follow(r, h)
		out.Minutes += minutes / float64(runs)
		switch {
		case named == 0:
			out.Open += 1 / float64(runs)
		case named == s.fault[h]:
			out.Right += 1 / float64(runs)
		default:
			out.Wrong += 1 / float64(runs)
		}
	}
	return out, nil
}

// believer decides by belief. What was decided after the same answers is kept.
type believer struct {
	s      *search
	surely float64
	dense  [][][]float64 // chance by test, outcome and machine
	known  map[string]decision
}

// decision is the test to make next, or −1 where it ends, with the fault that is named
// then, 0 for none.
type decision struct{ test, named int }

func (s *search) believer(surely float64) *believer {
	b := &believer{s: s, surely: surely, known: map[string]decision{}}
	for _, c := range s.tests {
		rows := make([][]float64, len(c.chance))
		for o, answer := range c.chance {
			rows[o] = make([]float64, len(s.weight))
			for _, x := range answer {
				rows[o][x.machine] = x.p
			}
		}
		b.dense = append(b.dense, rows)
	}
	return b
}

// drawn is a place drawn by weight.
func drawn(r *rand.Rand, weight []float64) int {
	sum := 0.0
	for _, w := range weight {
		sum += w
	}
	at := r.Float64() * sum
	for i, w := range weight {
		if at -= w; at < 0 {
			return i
		}
	}
	return len(weight) - 1
}

// follow goes on one machine until it ends.
func (b *believer) follow(r *rand.Rand, machine int) (minutes float64, named int) {
	belief := slices.Clone(b.s.weight)
	made, off, told := make([]bool, len(b.s.tests)), uint64(0), ""
	for {
		d, known := b.known[told]
		if !known {
			d = b.decide(belief, made, off)
			b.known[told] = d
		}
		if d.test < 0 {
			return minutes, d.named
		}
		var covers float64
		covers, off = b.s.access.Minutes(d.test, off)
		minutes += b.s.tests[d.test].minutes + covers
		made[d.test] = true
		here := make([]float64, len(b.dense[d.test]))
		for o, row := range b.dense[d.test] {
			here[o] = row[machine]
		}
		o := drawn(r, here)
		sum := 0.0
		for h, p := range b.dense[d.test][o] {
			belief[h] *= p
			sum += belief[h]
		}
		for h := range belief {
			belief[h] /= sum
		}
		told += string(rune(d.test)) + string(rune(o))
	}
}

// decide finds what tells most for its minutes, or ends.
func (b *believer) decide(belief []float64, made []bool, off uint64) decision {
	faults := make([]float64, len(b.s.faults))
	all := 0.0
	for h, w := range belief {
		faults[b.s.fault[h]] += w
		all += w
	}
	likeliest := 0
	for f := 1; f < len(faults); f++ {
		if likeliest == 0 || faults[f] > faults[likeliest] {
			likeliest = f
		}
	}
	if faults[likeliest] >= b.surely*all && likeliest > 0 {
		return decision{-1, likeliest}
	}
	best, most := decision{-1, 0}, 0.0
	parts := make([]float64, len(faults))
	for t, rows := range b.dense {
		if made[t] {
			continue
		}
		bits := entropy(faults) / all
		for _, row := range rows {
			clear(parts)
			for h, w := range belief {
				parts[b.s.fault[h]] += w * row[h]
			}
			bits -= entropy(parts) / all
		}
		covers, _ := b.s.access.Minutes(t, off)
		if worth := bits / (b.s.tests[t].minutes + covers); bits >= leastBits && worth > most {
			best, most = decision{t, 0}, worth
		}
	}
	return best
}
