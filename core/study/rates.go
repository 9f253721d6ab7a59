package study

import "gonum.org/v1/gonum/stat/distuv"

// priorJobs is how many finished jobs the catalogue's rates weigh as much as (size chosen
// by us).
const priorJobs = 30

// Rate is how often a fault comes, on the scale of the catalogue's rates.
type Rate struct {
	// Jobs that had it.
	Jobs int `json:"jobs"`
	// Mean of what is believed of it, and the limits that hold it with 95 in 100.
	Mean float64 `json:"mean"`
	Low  float64 `json:"low"`
	High float64 `json:"high"`
}

// Rates gives how often each fault comes after some finished jobs: by a Dirichlet prior in
// the proportions of the catalogue's rates, with the weight of thirty jobs. The limits are
// those of each fault's own share, which is a beta distribution. What the catalogue does
// not know is left out. (Gelman and others, Bayesian Data Analysis, from memory.)
func Rates(catalogue map[string]float64, jobs map[string]int) map[string]Rate {
	scale, n := 0.0, 0
	for id, r := range catalogue {
		scale, n = scale+r, n+jobs[id]
	}
	out := map[string]Rate{}
	for id, r := range catalogue {
		a := priorJobs*r/scale + float64(jobs[id])
		b := priorJobs + float64(n) - a
		if a <= 0 || b <= 0 {
			out[id] = Rate{jobs[id], r, r, r}
			continue
		}
		share := distuv.Beta{Alpha: a, Beta: b}
		out[id] = Rate{jobs[id], share.Mean() * scale, share.Quantile(0.025) * scale, share.Quantile(0.975) * scale}
	}
	return out
}
