// Package lesson lets a class sense two machines, by one run or one look, and asks which of
// them has something: an exercise of ear, hand and eye.
package lesson

import (
	"reflect"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/problem"
)

// Senses by which a test tells something.
const (
	Ear  = "ear"
	Hand = "hand"
	Eye  = "eye"
)

// Lesson is two machines of one kind, and by which test they are sensed. It is not changed
// once it is put before a class.
type Lesson struct {
	Family string          `json:"family"`
	Sheet  catalogue.Sheet `json:"sheet"`
	Test   string          `json:"test"`
	// Asked is what one of them has; Beside is what the other has, nil for a sound one.
	Asked  machine.FaultSpec  `json:"asked"`
	Beside *machine.FaultSpec `json:"beside,omitempty"`
	// Right is the side that has what is asked for, 0 or 1.
	Right int `json:"right"`
}

// Sense is the one that a test asks for; empty for a test that tells nothing to a class: one
// that is measured, or told in words alone.
func Sense(t *catalogue.Test) string {
	switch {
	case t.ID == "run-listen" || t.Kind == catalogue.KindRun:
		return Ear
	case !t.Named():
		return ""
	case t.Kind == catalogue.KindFeel:
		return Hand
	}
	return Eye
}

// Show makes the test on both machines, as a master would and without noise. It fails with a
// problem where that cannot be done, or where a class could not tell them apart.
func (l *Lesson) Show() (sides [2]bench.Observation, p *problem.Problem) {
	fam := catalogue.Standard().Family(l.Family)
	t := catalogue.Standard().TestFor(l.Family, l.Sheet, l.Test)
	if t == nil || Sense(t) == "" {
		return sides, problem.New("test", "lesson.not-by-a-sense", "test", problem.Show(l.Test))
	}
	specs := [2][]machine.FaultSpec{{l.Asked}, {}}
	if l.Beside != nil {
		specs[1] = []machine.FaultSpec{*l.Beside}
	}
	for i, faults := range specs {
		for _, f := range faults {
			if p := machine.CheckFault([2]string{"asked", "beside"}[i], f, fam); p != nil {
				return sides, p
			}
		}
		s, err := bench.NewSession(l.Family, l.Sheet, machine.Ambient{TemperatureC: 20}, faults, bench.Options{Technique: bench.Ideal, FuelML: -1})
		if err != nil {
			return sides, problem.New("", "lesson.cannot-be", "why", err.Error())
		}
		sides[(i+l.Right)%2] = s.Test(l.Test, nil)
	}
	if alike(t, &sides[0], &sides[1]) {
		return sides, problem.New("beside", "lesson.cannot-be-told-apart", "test", l.Test)
	}
	return sides, nil
}

// alike says that nobody could tell two machines apart by what a test lets them sense.
func alike(t *catalogue.Test, a, b *bench.Observation) bool {
	if Sense(t) == Ear {
		return reflect.DeepEqual(a.Heard, b.Heard)
	}
	return *a.Word == *b.Word && reflect.DeepEqual(a.Seen, b.Seen) && reflect.DeepEqual(a.Plug, b.Plug) && reflect.DeepEqual(a.Rope, b.Rope)
}
