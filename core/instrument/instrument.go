// Package instrument says what each instrument adds to the truth: its range, its
// divisions, the step it is read to, its accuracy, and its noise in one attempt.
package instrument

import (
	"hash/fnv"
	"math"
	"math/rand/v2"

	"zanjero/core/machine"
	"zanjero/core/units"
)

// Accuracy is what an instrument adds to the truth, all relative to the
// reading unless an absolute part is named. Common practice; sizes chosen by us.
type Accuracy struct {
	Bias, Repeat float64 // standard deviations, relative
	// Build is how far the spread of builds moves the reading of a sound machine,
	// a relative standard deviation; none for what is set by hand or by the sheet.
	Build    float64
	Floor    float64 // absolute standard deviation, in the test's unit
	Step     float64 // the finest step it can be read to, in the test's unit
	Division float64 // the smallest mark as drawn, in the test's unit
	Min, Max float64 // the ends of its scale
}

// accuracies by test.
var accuracies = map[string]Accuracy{
	"compression-dry":    {Bias: 0.015, Build: 0.004, Repeat: 0.008, Floor: 0.5, Step: 0.2, Division: 2, Max: 160},
	"compression-wet":    {Bias: 0.015, Build: 0.004, Repeat: 0.008, Floor: 0.5, Step: 0.2, Division: 2, Max: 160},
	"spark-gap":          {Bias: 0.02, Build: 0.02, Repeat: 0.01, Floor: 0.1, Step: 0.1, Division: 0.5, Max: 20},
	"coil-primary":       {Bias: 0.005, Build: 0.03, Repeat: 0.002, Floor: 0.02, Step: 0.1, Division: 0.1, Max: 200e3},
	"coil-secondary":     {Bias: 0.005, Build: 0.03, Repeat: 0.002, Floor: 0.005, Step: 0.01, Division: 0.01, Max: 200},
	"leak-down":          {Bias: 0.01, Build: 0.07, Repeat: 0.03, Floor: 0.8, Step: 0.5, Division: 2, Max: 100},
	"spark-kill-off":     {Bias: 0.02, Build: 0.02, Repeat: 0.01, Floor: 0.1, Step: 0.1, Division: 0.5, Max: 20},
	"jar-fuel":           {Bias: 0.02, Repeat: 0.04, Floor: 0.8, Step: 1, Division: 2, Max: 100},
	"run-idle":           {Bias: 0.003, Repeat: 0.01, Floor: 8, Step: 10, Division: 10, Max: 15000},
	"run-full":           {Bias: 0.003, Repeat: 0.005, Floor: 8, Step: 10, Division: 10, Max: 15000},
	"plug-gap":           {Bias: 0.01, Repeat: 0.01, Floor: 0.01, Step: 0.01, Division: 0.05, Max: 3},
	"air-gap":            {Bias: 0.01, Repeat: 0.02, Floor: 0.01, Step: 0.01, Division: 0.05, Max: 3},
	"valve-clearance":    {Bias: 0.01, Repeat: 0.02, Floor: 0.005, Step: 0.01, Division: 0.02, Max: 2},
	"tdc-magnet":         {Bias: 0.005, Repeat: 0.005, Floor: 0.7, Step: 1, Division: 2, Min: -180, Max: 180},
	"points-check":       {Bias: 0.01, Repeat: 0.02, Floor: 0.005, Step: 0.01, Division: 0.05, Max: 3},
	"float-check":        {Bias: 0.01, Repeat: 0.02, Floor: 0.2, Step: 0.5, Division: 1, Max: 60},
	"bar-stop":           {Bias: 0.01, Repeat: 0.04, Floor: 0.05, Step: 0.1, Division: 0.2, Max: 60},
	"kill-continuity":    {Bias: 0.005, Repeat: 0.002, Floor: 0.02, Step: 0.1, Division: 0.1, Max: 200},
	"nut-torque":         {Bias: 0.03, Repeat: 0.02, Floor: 0.5, Step: 1, Division: 2, Max: 200},
	"crankcase-pressure": {Bias: 0.015, Repeat: 0.02, Floor: 0.5, Step: 1, Division: 2, Max: 120},
	"line-pressure":      {Bias: 0.015, Repeat: 0.02, Floor: 0.5, Step: 1, Division: 2, Max: 120},
	"bowl-drain":         {Bias: 0.01, Repeat: 0.02, Floor: 0.4, Step: 0.5, Division: 1, Max: 100},
	"needle-test":        {Bias: 0.015, Repeat: 0.03, Floor: 2, Step: 2, Division: 5, Max: 500},
	"screw-count":        {Bias: 0.01, Repeat: 0.02, Floor: 0.03, Step: 0.125, Division: 0.125, Max: 10},
	"fuel-flow":          {Bias: 0.01, Build: 0.035, Repeat: 0.02, Floor: 0.5, Step: 1, Division: 2, Max: 160},
}

// AccuracyOf gives the accuracy of the instrument that reads a test.
func AccuracyOf(test string) Accuracy { return accuracies[test] }

// Noise is the source of chance of one attempt. The bias of an instrument is
// drawn once; each repeat of a test draws anew, and drawing again for the same
// repeat gives the same.
type Noise struct {
	On   bool
	Seed uint64
}

// Source is the chance of one thing on its nth time.
func (n Noise) Source(what string, repeat int) *rand.Rand {
	h := fnv.New64a()
	h.Write([]byte(what))
	return rand.New(rand.NewPCG(n.Seed, h.Sum64()+uint64(repeat)*0x9E3779B97F4A7C15))
}

// Draws gives the chances of an attempt; without noise, the middle.
func (n Noise) Draws(test string, repeat int) (d machine.Draws) {
	if !n.On {
		return d
	}
	r := n.Source("draws:"+test, repeat)
	for i := range d.Pull {
		d.Pull[i] = r.NormFloat64()
	}
	d.Threshold = r.NormFloat64()
	d.Shake, d.Slug = r.NormFloat64(), r.NormFloat64()
	return d
}

// Blur lays bias and repeatability on an exact value, within the ends of the
// scale, rounded to the instrument's step.
func (n Noise) Blur(test, instrument string, repeat int, value float64) float64 {
	a := accuracies[test]
	if n.On && value != 0 {
		value += value * a.Bias * n.Source("bias:"+instrument, 0).NormFloat64()
		value += (value*a.Repeat + a.Floor) * clampDeviate(n.Source("repeat:"+test, repeat).NormFloat64())
	}
	return units.Round(min(max(value, a.Min), a.Max), a.Step)
}

// Pick draws a word by its chance; without noise, the likeliest.
func (n Noise) Pick(test string, repeat int, chances map[string]float64, likeliest string, order []string) string {
	if !n.On {
		return likeliest
	}
	u := n.Source("look:"+test, repeat).Float64()
	for _, w := range order {
		if u -= chances[w]; u < 0 {
			return w
		}
	}
	return likeliest
}

// Specimen draws the build of one engine.
func (n Noise) Specimen() (b machine.Build) {
	if !n.On {
		return b
	}
	r := n.Source("build", 0)
	for _, f := range []*float64{&b.Leak, &b.Winding, &b.Magnet, &b.Metering, &b.Flow} {
		*f = machine.BuildSpread * clampDeviate(r.NormFloat64())
	}
	return b
}

// clampDeviate keeps a deviate within what a working instrument or a build
// that passed inspection would show.
func clampDeviate(z float64) float64 { return min(max(z, -2.5), 2.5) }

// Spread is the standard deviation of a reading around an exact value, in the
// test's unit: the instrument's bias and repeatability, the spread of builds,
// and the step it is read to.
func (a Accuracy) Spread(exact float64) float64 {
	repeat := exact*a.Repeat + a.Floor
	return math.Sqrt(exact*exact*(a.Bias*a.Bias+a.Build*a.Build) + repeat*repeat + a.Step*a.Step/12)
}
