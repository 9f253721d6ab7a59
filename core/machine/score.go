package machine

import (
	"cmp"
	"math"
	"slices"
)

// Kinds of beat.
const (
	BeatFire    = "fire"    // a charge that burns
	BeatPuff    = "puff"    // a charge that is pressed and does not burn
	BeatHiss    = "hiss"    // gas that leaves where it should not
	BeatKnock   = "knock"   // worn parts
	BeatThump   = "thump"   // a shudder of the whole machine
	BeatPop     = "pop"     // in the exhaust
	BeatSpit    = "spit"    // at the intake
	BeatBang    = "bang"    // the rope torn back
	BeatRope    = "rope"    // the rope runs out, for as long as the pull
	stallsBelow = 150.0     // rpm, under which nothing fires any more
	golden      = 0.6180339 // spreads misses so that they neither bunch nor keep time
	other       = 0.4142136 // and pops, apart from them
)

// Beat is one thing that an ear takes in.
type Beat struct {
	// At is when, in s from the beginning, to a tenth of a millisecond.
	At float64
	// Loud from 0 to 1, to a tenth.
	Loud float64
	Kind string
}

// Score is what was heard, beat by beat and in their order, and how long it takes, s. A
// four-stroke fires at speed / 120 times a second, a two-stroke at speed / 60 (textbook).
func (h Heard) Score() (beats []Beat, seconds float64) {
	began := 0.0
	add := func(at, loud float64, kind string) {
		if loud > 0 {
			beats = append(beats, Beat{math.Round(at*1e4) / 1e4, max(math.Round(loud*10)/10, 0.1), kind})
		}
	}
	turns := 2.0 // in a cycle
	if h.TwoStroke {
		turns = 1
	}
	n := 0 // firings so far
	for _, p := range h.Parts {
		switch p.Kind {
		case EarPull:
			add(began, p.Loud, BeatRope)
		case EarStill:
			began += p.Seconds
			continue
		}
		for at := 0.0; ; {
			rpm := p.From + (p.To-p.From)*at/p.Seconds
			if p.Period > 0 {
				rpm *= 1 + p.Swing*math.Sin(2*math.Pi*at/p.Period)
			}
			if rpm < stallsBelow {
				break
			}
			cycle := turns * 60 / rpm
			if at+cycle > p.Seconds+1e-9 {
				break
			}
			p.cycle(began+at, cycle, turns, n, add)
			at, n = at+cycle, n+1
		}
		began += p.Seconds
		if p.Bang {
			add(began, 1, BeatBang)
		}
		if p.Kind == EarPull {
			add(began, p.Spit, BeatSpit)
		}
	}
	slices.SortStableFunc(beats, func(a, b Beat) int { return cmp.Compare(a.At, b.At) })
	return beats, began
}

// cycle adds the nth cycle of a part, which begins at a time and takes so long.
func (p *EarPart) cycle(at, long, turns float64, n int, add func(at, loud float64, kind string)) {
	among := func(share, by float64) bool {
		_, x := math.Modf(float64(n+1) * by)
		return x < share
	}
	add(at, p.Hiss, BeatHiss)
	missed := p.Kind == EarPull || among(p.Missed, golden)
	if p.EveryOther {
		missed = n%2 == 1
	}
	if missed {
		add(at, p.Loud/2, BeatPuff)
	} else {
		add(at, p.Loud, BeatFire)
		if among(p.Pop, other) {
			add(at+0.4*long, 0.8, BeatPop)
		}
	}
	if p.Kind == EarRun && among(p.Spit, other) {
		add(at+0.7*long, 0.8, BeatSpit)
	}
	add(at+0.5*long, p.Knock, BeatKnock)
	for k := range int(turns) {
		add(at+float64(k)*long/turns, p.Shudder, BeatThump)
	}
}
