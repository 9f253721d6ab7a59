package catalogue

import (
	"encoding/json"
	"io"
	"maps"
	"slices"
	"strings"

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
	// Rates are how often faults come, by their ids, beside the others', in every family
	// that FamilyRates does not name them for.
	Rates map[string]float64 `json:"rates,omitempty"`
	// FamilyRates are those of one family, by its id and the fault's.
	FamilyRates map[string]map[string]float64 `json:"family_rates,omitempty"`
	// Sources say where a figure comes from, in the yard's own words, by its place:
	// "tests.look-oil", "covers.shroud", "rates.plug-fouled",
	// "family_rates.f4-bowl.plug-fouled". They change nothing that is worked out.
	Sources map[string]string `json:"sources,omitempty"`
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
	MostOwnSource  = 200     // of letters
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
	if err := c.checkRates("rates.", o.Rates); err != nil {
		return err
	}
	for _, fam := range slices.Sorted(maps.Keys(o.FamilyRates)) {
		if c.Family(fam) == nil {
			return problem.New("family_rates."+fam, "catalogue.own-no-family", "id", fam)
		}
		if err := c.checkRates("family_rates."+fam+".", o.FamilyRates[fam]); err != nil {
			return err
		}
	}
	for _, at := range slices.Sorted(maps.Keys(o.Sources)) {
		switch {
		case !o.has(at):
			return problem.New("sources."+at, "catalogue.own-source-of-nothing", "at", at)
		case len([]rune(o.Sources[at])) > MostOwnSource:
			return problem.New("sources."+at, "catalogue.own-source-too-long", "most", MostOwnSource)
		}
	}
	return nil
}

func (c *Catalogue) checkRates(path string, rates map[string]float64) error {
	for _, id := range slices.Sorted(maps.Keys(rates)) {
		if c.Fault(id) == nil {
			return problem.New(path+id, "catalogue.own-no-fault", "id", id)
		}
		if err := within(path+id, rates[id], MostOwnRate); err != nil {
			return err
		}
	}
	return nil
}

// has says that there is a figure at a place.
func (o *Own) has(at string) (there bool) {
	kind, id, _ := strings.Cut(at, ".")
	switch kind {
	case "tests":
		_, there = o.Tests[id]
	case "covers":
		_, there = o.Covers[id]
	case "rates":
		_, there = o.Rates[id]
	case "family_rates":
		fam, fault, _ := strings.Cut(id, ".")
		_, there = o.FamilyRates[fam][fault]
	}
	return there
}

// AsOwn are the catalogue's own figures in the same form.
func (c *Catalogue) AsOwn() *Own {
	o := &Own{Tests: map[string]float64{}, Covers: map[string]CoverMinutes{}, Rates: map[string]float64{}, FamilyRates: map[string]map[string]float64{}}
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
	for _, fam := range c.Families {
		rates := map[string]float64{}
		for _, f := range c.FaultsOf(fam.ID, nil) {
			rates[f.ID] = f.Rate(fam.ID)
		}
		o.FamilyRates[fam.ID] = rates
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
		f := &out.Faults[i]
		if v, ok := o.Rates[f.ID]; ok {
			f.BaseRate, f.Rates = v, nil
		}
		for _, fam := range c.Families {
			if v, ok := o.FamilyRates[fam.ID][f.ID]; ok {
				f.Rates = maps.Clone(f.Rates)
				if f.Rates == nil {
					f.Rates = map[string]float64{}
				}
				f.Rates[fam.ID] = v
			}
		}
	}
	return &out
}
