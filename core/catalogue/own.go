package catalogue

import (
	"encoding/json"
	"io"
	"maps"
	"slices"

	"zanjero/core/problem"
)

// Own are figures that a yard has of its own, beside the catalogue's. What it does not
// name is the catalogue's.
type Own struct {
	// Tests are minutes that a test takes, by its id, without its covers. A test that
	// goes on for as long as somebody likes has none.
	Tests map[string]float64 `json:"tests,omitempty"`
	// Covers are minutes that a cover takes, by its id.
	Covers map[string]CoverMinutes `json:"covers,omitempty"`
	// Rates are how often faults come, by their ids, beside the others'. They are for
	// every family.
	Rates map[string]float64 `json:"rates,omitempty"`
}

// CoverMinutes are what a cover takes to come off and to go back.
type CoverMinutes struct {
	Off  float64 `json:"off"`
	Back float64 `json:"back"`
}

// Most that a figure of a yard's own can be: a working day, and what a rate weighs.
const (
	MostOwnMinutes = 480.0
	MostOwnRate    = 1000.0
	mostOwn        = 1 << 20 // of bytes
)

// ReadOwn reads own figures as JSON and checks them against the catalogue. The error is
// a *problem.Problem with the place, or the reader's.
func (c *Catalogue) ReadOwn(r io.Reader) (*Own, error) {
	d := json.NewDecoder(io.LimitReader(r, mostOwn))
	d.DisallowUnknownFields()
	var o Own
	if err := d.Decode(&o); err != nil {
		return nil, problem.New("", "catalogue.own-not-read", "detail", err.Error())
	}
	return &o, c.CheckOwn(&o)
}

// CheckOwn says what cannot be: nil, or a *problem.Problem with the place.
func (c *Catalogue) CheckOwn(o *Own) error {
	for _, id := range slices.Sorted(maps.Keys(o.Tests)) {
		t := c.Test(id)
		switch {
		case t == nil:
			return problem.New("tests."+id, "catalogue.own-no-test", "id", id)
		case t.Long:
			return problem.New("tests."+id, "catalogue.own-test-is-long", "test", id)
		}
		if err := within("tests."+id, o.Tests[id], MostOwnMinutes); err != nil {
			return err
		}
	}
	for _, id := range slices.Sorted(maps.Keys(o.Covers)) {
		if c.Cover(id) == nil {
			return problem.New("covers."+id, "catalogue.own-no-cover", "id", id)
		}
		if err := within("covers."+id+".off", o.Covers[id].Off, MostOwnMinutes); err != nil {
			return err
		}
		if err := within("covers."+id+".back", o.Covers[id].Back, MostOwnMinutes); err != nil {
			return err
		}
	}
	for _, id := range slices.Sorted(maps.Keys(o.Rates)) {
		if c.Fault(id) == nil {
			return problem.New("rates."+id, "catalogue.own-no-fault", "id", id)
		}
		if err := within("rates."+id, o.Rates[id], MostOwnRate); err != nil {
			return err
		}
	}
	return nil
}

// AsOwn are the catalogue's own figures in the same form.
func (c *Catalogue) AsOwn() *Own {
	o := &Own{Tests: map[string]float64{}, Covers: map[string]CoverMinutes{}, Rates: map[string]float64{}}
	for _, t := range c.Tests {
		if !t.Long {
			o.Tests[t.ID] = t.Minutes
		}
	}
	for _, a := range c.Access {
		o.Covers[a.ID] = CoverMinutes{a.OpenMinutes, a.CloseMinutes}
	}
	for _, f := range c.Faults {
		o.Rates[f.ID] = f.BaseRate
	}
	return o
}

func within(path string, v, most float64) error {
	if v >= 0 && v <= most {
		return nil
	}
	return problem.New(path, "catalogue.own-out-of-range", "value", v, "most", most)
}

// With gives the catalogue with a yard's own figures in place of its own. It shares the
// rest with this one; neither is to be changed. Of nil it gives this one.
func (c *Catalogue) With(o *Own) *Catalogue {
	if o == nil {
		return c
	}
	out := *c
	out.Tests, out.Access, out.Faults = slices.Clone(c.Tests), slices.Clone(c.Access), slices.Clone(c.Faults)
	for i := range out.Tests {
		if v, ok := o.Tests[out.Tests[i].ID]; ok {
			out.Tests[i].Minutes = v
		}
	}
	for i := range out.Access {
		if v, ok := o.Covers[out.Access[i].ID]; ok {
			out.Access[i].OpenMinutes, out.Access[i].CloseMinutes = v.Off, v.Back
		}
	}
	for i := range out.Faults {
		if v, ok := o.Rates[out.Faults[i].ID]; ok {
			out.Faults[i].BaseRate, out.Faults[i].Rates = v, nil
		}
	}
	return &out
}
