package lesson

import (
	"cmp"
	"context"
	"fmt"
	"reflect"
	"slices"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/parallel"
)

// Stand is one place in a lineup: what is met of a machine by a look or a feel, and what the
// machine has; nil for a sound one.
type Stand struct {
	Test  string
	Fault *machine.FaultSpec
	Obs   bench.Observation
}

// far is how far each fault of a lineup has gone, and lineupC the temperature it stands at, °C.
var far = []float64{0.35, 0.65, 1}

const lineupC = 20

// Lineup has every look and feel of a family that something can be drawn of made by a master
// on a sound machine and on machines with each of its faults, little, further and quite gone:
// test by test, what is called alike together, each that looks alike once. It tells what is
// hidden, and is for whoever teaches. The error is the context's, or a family that is none.
func Lineup(ctx context.Context, family string) (out []Stand, err error) {
	cat := catalogue.Standard()
	fam := cat.Family(family)
	if fam == nil {
		return nil, fmt.Errorf("lineup: no family %q", family)
	}
	var tests []catalogue.Test
	for _, t := range cat.TestsOf(family, fam.Sheet) {
		if s := Sense(&t); s == Eye || s == Hand {
			tests = append(tests, t)
		}
	}
	of := make([][]Stand, len(tests))
	errs := make([]error, len(tests))
	if err := parallel.For(ctx, len(tests), func(i int) { of[i], errs[i] = lineupOf(&tests[i], fam) }); err != nil {
		return nil, err
	}
	for i := range of {
		if errs[i] != nil {
			return nil, errs[i]
		}
		out = append(out, of[i]...)
	}
	return out, nil
}

// lineupOf is a lineup of one test; nil where nothing can be drawn of it.
func lineupOf(t *catalogue.Test, fam *catalogue.Family) (out []Stand, err error) {
	add := func(f *machine.FaultSpec) error {
		var faults []machine.FaultSpec
		if f != nil {
			faults = append(faults, *f)
		}
		s, err := bench.NewSession(fam.ID, fam.Sheet, machine.Ambient{TemperatureC: lineupC}, faults, bench.Options{Technique: bench.Ideal, FuelML: -1})
		if err != nil {
			return err
		}
		if t.ID == "plug-look" { // a plug tells of the last time that it was started
			s.Test("start-attempt", nil)
		}
		o := s.Test(t.ID, nil)
		if !slices.ContainsFunc(out, func(x Stand) bool { return alike(t, &x.Obs, &o) && reflect.DeepEqual(x.Obs.Parts, o.Parts) }) {
			out = append(out, Stand{t.ID, f, o})
		}
		return nil
	}
	if err := add(nil); err != nil {
		return nil, err
	}
	if o := &out[0].Obs; o.Seen == nil && o.Plug == nil {
		return nil, nil
	}
	for _, f := range catalogue.Standard().FaultsOf(fam.ID, fam.Sheet) {
		for _, mode := range append([]string{""}, f.Modes...) {
			for _, severity := range far {
				spec := machine.FaultSpec{ID: f.ID, Severity: severity, Mode: mode}
				if !f.Graded {
					spec.Severity = 1
				}
				if err := add(&spec); err != nil {
					return nil, err
				}
			}
		}
	}
	if len(out) == 1 { // there is nothing to tell it from
		return nil, nil
	}
	place := func(s Stand) int { return slices.Index(t.Words, *s.Obs.Word) }
	slices.SortStableFunc(out[1:], func(a, b Stand) int { return cmp.Compare(place(a), place(b)) })
	return out, nil
}
