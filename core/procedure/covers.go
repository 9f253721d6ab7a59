package procedure

import (
	"slices"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
)

// longRun is how long a run is taken to last that has no length of its own,
// minutes.
const longRun = 15

// covers lays out what each step takes of itself, and which covers it needs off
// or on.
func (f *frozen) covers(pop *Population) {
	cat := catalogue.Standard()
	ids := cat.Family(pop.family).Covers
	for _, id := range ids {
		f.open, f.close = append(f.open, cat.Cover(id).OpenMinutes), append(f.close, cat.Cover(id).CloseMinutes)
	}
	for i := range f.p.Steps {
		s := &f.p.Steps[i]
		t := cat.TestFor(pop.family, pop.sheet, s.Test)
		minutes := t.Minutes
		if t.Long {
			minutes = longRun
			if m, ok := s.Setup["minutes"].(float64); ok {
				minutes = m
			}
		}
		for _, id := range s.Precautions {
			minutes += cat.Action(id).Minutes
		}
		if s.Repair != "" {
			minutes += cat.Repair(s.Repair, s.Reach).Minutes
		}
		var off, on uint64
		needs, not := bench.AccessOf(t)
		for k, id := range ids {
			switch {
			case slices.Contains(needs, id):
				off |= 1 << k
			case slices.Contains(not, id) || t.Kind == catalogue.KindRun:
				on |= 1 << k
			}
		}
		f.minutes, f.off, f.on = append(f.minutes, minutes), append(f.off, off), append(f.on, on)
	}
}

// access is the minutes that a step's covers take with some of them off, and
// what is off afterwards.
func (f *frozen) access(step int, off uint64) (minutes float64, after uint64) {
	for k := range f.open {
		bit := uint64(1) << k
		switch {
		case f.off[step]&bit != 0 && off&bit == 0:
			minutes, off = minutes+f.open[k], off|bit
		case f.on[step]&bit != 0 && off&bit != 0:
			minutes, off = minutes+f.close[k], off&^bit
		}
	}
	return minutes, off
}
