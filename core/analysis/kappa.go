package analysis

import "math"

// Kappa is Cohen's kappa of two who judged the same things, with its standard error and the
// interval that holds it 95 times in 100.
type Kappa struct {
	N     int     `json:"n"`
	Kappa float64 `json:"kappa"`
	Error float64 `json:"error"`
	Low   float64 `json:"low"`
	High  float64 `json:"high"`
}

// KappaOf gives it of pairs of categories, 0 up to some number of them: Cohen 1960 for
// kappa, and Fleiss, Cohen and Everitt 1969 for its standard error in large samples. With
// one category alone, or nothing judged, kappa says nothing and is 0 with no error.
func KappaOf(pairs [][2]int, categories int) Kappa {
	n := float64(len(pairs))
	k := Kappa{N: len(pairs)}
	if n == 0 {
		return k
	}
	p := make([][]float64, categories)
	rows, cols := make([]float64, categories), make([]float64, categories)
	for i := range p {
		p[i] = make([]float64, categories)
	}
	for _, x := range pairs {
		p[x[0]][x[1]] += 1 / n
		rows[x[0]] += 1 / n
		cols[x[1]] += 1 / n
	}
	po, pe := 0.0, 0.0
	for i := range p {
		po += p[i][i]
		pe += rows[i] * cols[i]
	}
	if pe > 1-1e-12 {
		return k
	}
	k.Kappa = (po - pe) / (1 - pe)
	a, b := 0.0, 0.0
	for i := range p {
		a += p[i][i] * math.Pow(1-(rows[i]+cols[i])*(1-k.Kappa), 2)
		for j := range p {
			if i != j {
				b += p[i][j] * math.Pow(cols[i]+rows[j], 2)
			}
		}
	}
	b *= math.Pow(1-k.Kappa, 2)
	c := math.Pow(k.Kappa-pe*(1-k.Kappa), 2)
	k.Error = math.Sqrt(max(a+b-c, 0)/n) / (1 - pe)
	k.Low, k.High = max(k.Kappa-1.96*k.Error, -1), min(k.Kappa+1.96*k.Error, 1)
	return k
}
