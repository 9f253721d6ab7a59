package procedure

import (
	"context"
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/foresee"
	"zanjero/core/instrument"
	"zanjero/core/parallel"
)

// Bins is into how many stretches a scale is parted to show how readings spread on it.
const Bins = 96

// Seen is what a step shows of one part of a reading: of sound machines, and of those
// that come to it. Shares of each sum to one with Over and what lies off the scale.
type Seen struct {
	// Part is empty for the first, or only, part.
	Part string `json:"part,omitempty"`
	Unit string `json:"unit,omitempty"`
	// Least and Most are the ends of the scale, in the unit, and Division its small mark;
	// all zero for a part that is a word.
	Least    float64 `json:"least,omitempty"`
	Most     float64 `json:"most,omitempty"`
	Division float64 `json:"division,omitempty"`
	// Low and High are the sheet's band, where it has one.
	Low  *float64 `json:"low,omitempty"`
	High *float64 `json:"high,omitempty"`
	// Sound and Come are shares by stretch of the scale, Bins of them.
	Sound     []float64 `json:"sound,omitempty"`
	Come      []float64 `json:"come,omitempty"`
	SoundOver float64   `json:"sound_over,omitempty"`
	ComeOver  float64   `json:"come_over,omitempty"`
	// Words are those of a look or a run, with the share of machines that say each.
	Words []SeenWord `json:"words,omitempty"`
}

// SeenWord is a word and how often it is met.
type SeenWord struct {
	Word  string  `json:"word"`
	Sound float64 `json:"sound"`
	Come  float64 `json:"come"`
}

// Seen gives, for each part of the reading of the i-th step, how it spreads over sound
// machines and over those that come to the step. Nothing is there of a step that no
// machine comes to. As with Evaluate, one goroutine at a time may use a population.
func (pop *Population) Seen(ctx context.Context, proc *Procedure, i int) ([]Seen, error) {
	p := pop.plan(proc.For(pop.family, pop.sheet))
	met := make([][]foresaw, len(pop.specimens))
	err := parallel.For(ctx, len(met), func(k int) {
		p.followAnd(&pop.specimens[k], func(step int, prob float64, told *foresee.Prediction) {
			if step == i {
				met[k] = append(met[k], foresaw{prob, told})
			}
		})
	})
	if err != nil {
		return nil, err
	}
	t := p.tests[i]
	parts := []string{""}
	for k := range t.Parts {
		if k > 0 {
			parts = append(parts, t.Parts[k].ID)
		}
	}
	// A sound machine is met as it would be here, even where none comes this far.
	sound := met[pop.healthy]
	if len(sound) == 0 {
		for _, e := range pop.try(pop.specimens[pop.healthy].root, &p.Steps[i], p.keys[i]) {
			sound = append(sound, foresaw{e.p, e.told})
		}
	}
	var out []Seen
	for _, part := range parts {
		d, _ := (&Outcome{Part: part}).side(t)
		s := pop.blank(t, &d)
		s.add(&d, sound, 1, false)
		for k := range met {
			s.add(&d, met[k], pop.specimens[k].Weight, true)
		}
		if s.scaled(); s.Sound != nil || len(s.Words) > 0 {
			out = append(out, *s)
		}
	}
	return out, nil
}

// foresaw is what a step was seen to say of a machine, and how likely.
type foresaw struct {
	p    float64
	told *foresee.Prediction
}

// blank is a part of which nothing has been seen.
func (pop *Population) blank(t *catalogue.Test, d *side) *Seen {
	s := &Seen{Part: d.id, Unit: d.unit}
	if !d.number {
		for _, w := range d.words {
			s.Words = append(s.Words, SeenWord{Word: w})
		}
		return s
	}
	a := instrument.AccuracyOf(d.like)
	s.Least, s.Most, s.Division = a.Least, a.Most, a.Division
	if f, ok := pop.sheet[d.figure]; ok {
		s.Low, s.High = &f.Low, &f.High
	}
	if s.Most > s.Least {
		s.Sound, s.Come = make([]float64, Bins), make([]float64, Bins)
	}
	return s
}

func (s *Seen) add(d *side, met []foresaw, weight float64, come bool) {
	for _, m := range met {
		told := d.of(m.told)
		if told == nil {
			continue
		}
		w := weight * m.p
		for _, word := range told.Words {
			k := slices.IndexFunc(s.Words, func(x SeenWord) bool { return x.Word == word.Word })
			if k < 0 {
				continue
			}
			if come {
				s.Words[k].Come += w * word.P
			} else {
				s.Words[k].Sound += w * word.P
			}
		}
		into := s.Sound
		if come {
			into = s.Come
			s.ComeOver += w * told.OverLimit()
		} else {
			s.SoundOver += w * told.OverLimit()
		}
		width := (s.Most - s.Least) / Bins
		for b := range into {
			low := s.Least + float64(b)*width
			into[b] += w * told.Between(d.like, low, low+width)
		}
	}
}

// scaled brings both to shares of what was met.
func (s *Seen) scaled() {
	sound, come := s.SoundOver, s.ComeOver
	for b := range s.Sound {
		sound += s.Sound[b]
		come += s.Come[b]
	}
	for _, w := range s.Words {
		sound += w.Sound
		come += w.Come
	}
	share := func(v *float64, of float64) {
		if of > 0 {
			*v /= of
		}
	}
	share(&s.SoundOver, sound)
	share(&s.ComeOver, come)
	for b := range s.Sound {
		share(&s.Sound[b], sound)
		share(&s.Come[b], come)
	}
	for i := range s.Words {
		share(&s.Words[i].Sound, sound)
		share(&s.Words[i].Come, come)
	}
}
