// Package instrument says what each instrument adds to the truth: its range, its
// divisions, the step it is read to, its accuracy, and its noise in one attempt.
package instrument

import (
	"hash/fnv"
	"math"
	"math/rand/v2"
	"sync"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/units"
)

// Accuracy is that of the catalogue, with what follows from it.
type Accuracy struct{ catalogue.Accuracy }

// accuracies of the standard catalogue by test: they are asked for at every
// reading.
var accuracies = sync.OnceValue(func() map[string]Accuracy {
	out := map[string]Accuracy{}
	for _, t := range catalogue.Standard().Tests {
		if t.Accuracy != nil {
			out[t.ID] = Accuracy{*t.Accuracy}
		}
	}
	return out
})

// AccuracyOf gives the accuracy of the instrument that reads a test; zero for a
// test that gives no number.
func AccuracyOf(test string) Accuracy { return accuracies()[test] }

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

// Blur lays bias and repeatability on an exact value, within the ends of what
// can be read, rounded to the instrument's step. Beyond says that the upper end
// cut it off.
func (n Noise) Blur(test, instrument string, repeat int, value float64) (shown float64, beyond bool) {
	return n.blur(test, AccuracyOf(test), instrument, repeat, value)
}

// BlurLike is Blur of a part of a reading, by a key of its own and with the
// accuracy of a test.
func (n Noise) BlurLike(key, test, instrument string, repeat int, value float64) float64 {
	shown, _ := n.blur(key, AccuracyOf(test), instrument, repeat, value)
	return shown
}

func (n Noise) blur(key string, a Accuracy, instrument string, repeat int, value float64) (shown float64, beyond bool) {
	if n.On && value != 0 {
		value += value * a.Bias * n.Source("bias:"+instrument, 0).NormFloat64()
		value += (value*a.Repeat + a.Floor) * clampDeviate(n.Source("repeat:"+key, repeat).NormFloat64())
	}
	return units.Round(min(max(value, a.Least), a.Most), a.Step), value > a.Most+a.Step/2
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
