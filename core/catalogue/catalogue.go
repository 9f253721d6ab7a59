// Package catalogue holds the data of the trade: engine families, reaches,
// faults, causes, tests, covers, controls, hazards and repairs. It is embedded
// and checked when it is loaded. It carries no expected readings, which come from
// the machine model alone, and no words, which stand in the message files under
// the ids.
package catalogue

import (
	"embed"
	"encoding/json"
	"fmt"
	"slices"
	"sync"
)

// Catalogue is the whole of it. It is not changed after loading.
type Catalogue struct {
	Laterals    []Lateral
	Reaches     []Reach
	Families    []Family
	Figures     []FigureKind
	Faults      []Fault
	Causes      []Cause
	Statements  []Statement
	Advice      []Advice
	Tests       []Test
	Instruments []Instrument
	Access      []Access
	Controls    []Control
	Hazards     []Hazard
	Actions     []Action
	Repairs     Repairs
	Setups      []Setup
}

// Lateral is one of the four paths to the cylinder.
type Lateral struct {
	ID string `json:"id"`
}

// Reach is a part along a lateral, in order from the source.
type Reach struct {
	ID       string   `json:"id"`
	Lateral  string   `json:"lateral"`
	Families []string `json:"families"`
	// Beside: it stands beside the lateral and not in it.
	Beside bool `json:"beside,omitempty"`
}

// Family is an engine type.
type Family struct {
	ID       string   `json:"id"`
	Controls []string `json:"controls"`
	Covers   []string `json:"covers"`
	// Variants are the words that a sheet of the family can carry, by figure.
	Variants map[string][]string `json:"variants"`
	Sheet    Sheet               `json:"sheet"`
}

// Fault is something that can be wrong. What it does to the machine is a law
// of the machine model, under the same id.
type Fault struct {
	ID       string   `json:"id"`
	Reach    string   `json:"reach"`
	Families []string `json:"families"`
	BaseRate float64  `json:"base_rate"`
	// Rates are base rates of families that differ.
	Rates map[string]float64 `json:"rates,omitempty"`
	// Modes are the ways it can go, the default first; none for most.
	Modes []string `json:"modes,omitempty"`
	// Graded faults have a severity between 0 and 1; the others are there or not.
	Graded bool     `json:"graded"`
	Needs  Needs    `json:"needs,omitempty"`
	Causes []string `json:"causes"`
	Advice string   `json:"advice"`
}

// Cause is a fact of a machine's history that leads to faults.
type Cause struct {
	ID string `json:"id"`
}

// Statement is something that an owner says of how it came about.
type Statement struct {
	// ID is that of a cause where it names one.
	ID string `json:"id"`
	// Tells is what it comes to, a word of the test that asks for the history.
	Tells string `json:"tells"`
	// Cause: it names a cause, and can be true or false of a machine. Others, such as a
	// part that is new, may be so whatever is wrong.
	Cause bool `json:"cause,omitempty"`
}

// Advice is a sentence for the owner.
type Advice struct {
	ID string `json:"id"`
}

// Kinds of test.
const (
	KindLook   = "look"
	KindFeel   = "feel"
	KindRun    = "run"
	KindNumber = "number"
)

// Test is something an apprentice can look at or measure.
type Test struct {
	ID      string `json:"id"`
	Lateral string `json:"lateral"`
	Kind    string `json:"kind"`
	// Unit of a number, as it is reported by the bench.
	Unit       string  `json:"unit"`
	Minutes    float64 `json:"minutes"`
	Instrument string  `json:"instrument"`
	// Figure is the id of the sheet's figure that judges the reading.
	Figure string   `json:"figure"`
	Access []string `json:"access"`
	// Shut are the covers that must be on, beside those that a crank or a run needs.
	Shut []string `json:"shut,omitempty"`
	// AccessFor is the access on families that differ.
	AccessFor map[string][]string `json:"access_for,omitempty"`
	// Families that have the test; empty for all that have its covers.
	Families []string `json:"families,omitempty"`
	Needs    Needs    `json:"needs,omitempty"`
	// Cranks: the rope is pulled, so the recoil must be on; a test whose own
	// access does not include the plug also needs the plug in.
	Cranks  bool     `json:"cranks"`
	Long    bool     `json:"long"`
	Reaches []string `json:"reaches"`
	Proves  []string `json:"proves"`
	Hazards []string `json:"hazards"`
	// Conditions are what must be true of the set-up for a reading to be valid.
	Conditions []string `json:"conditions"`
	Words      []string `json:"words"`
	// Accuracy of what a number is read from; nil for what has no number.
	Accuracy *Accuracy `json:"accuracy,omitempty"`
	// Parts of a reading that has several, each read, judged and believed by itself;
	// the first is what the test's own fields describe. Empty where it has one.
	Parts []Part `json:"parts,omitempty"`
}

// Part is one of several that a reading has.
type Part struct {
	ID string `json:"id"`
	// Unit of a number; empty for one that is told in Words.
	Unit   string   `json:"unit,omitempty"`
	Figure string   `json:"figure,omitempty"`
	Words  []string `json:"words,omitempty"`
	// Like is the test whose accuracy a number has; empty for its own test's.
	Like string `json:"like,omitempty"`
	// Families that have it; empty for all that have the test.
	Families []string `json:"families,omitempty"`
}

// Part gives a part by id, or nil.
func (t *Test) Part(id string) *Part {
	for i := range t.Parts {
		if t.Parts[i].ID == id {
			return &t.Parts[i]
		}
	}
	return nil
}

// IsNumber says that a part is a number.
func (p *Part) IsNumber() bool { return len(p.Words) == 0 }

// AccuracyLike is the id of the test whose accuracy a part has.
func (t *Test) AccuracyLike(p *Part) string {
	if p.Like != "" {
		return p.Like
	}
	return t.ID
}

// Scale is what is drawn on the face of an instrument, in the unit of its marks.
type Scale struct {
	// Least and Most are its ends; beyond them the needle rests on its stop.
	Least float64 `json:"least"`
	Most  float64 `json:"most"`
	// Division is from mark to mark, Numbered from one mark with a number to the
	// next.
	Division float64 `json:"division"`
	Numbered float64 `json:"numbered"`
}

// Instrument is what readings are taken from. One that shows digits, or is tried
// blade by blade, has no scale.
type Instrument struct {
	ID    string `json:"id"`
	Scale *Scale `json:"scale,omitempty"`
}

// Accuracy is what an instrument adds to the truth in a test, relative to the
// reading unless an absolute part is named. Common practice; sizes chosen by us.
type Accuracy struct {
	// Bias is drawn once for an instrument, Repeat at each reading: standard
	// deviations, relative.
	Bias   float64 `json:"bias"`
	Repeat float64 `json:"repeat"`
	// Build is how far the spread of builds moves the reading of a sound machine,
	// a relative standard deviation; none for what is set by hand or by the sheet.
	Build float64 `json:"build"`
	// Floor is an absolute standard deviation, Step the finest that can be read,
	// Division the smallest mark; in the test's unit.
	Floor    float64 `json:"floor"`
	Step     float64 `json:"step"`
	Division float64 `json:"division"`
	// Least and Most are the ends of what can be read, in the test's unit. They
	// and the division are those of the instrument's scale where the test does not
	// say otherwise.
	Least float64 `json:"least"`
	Most  float64 `json:"most"`
}

// Named says that what the test meets is shown or described, for the
// apprentice to put a name to; every other test tells its word itself.
func (t *Test) Named() bool {
	return (t.Kind == KindLook || t.Kind == KindFeel) && !slices.Contains([]string{"look-switches", "ask-history", "look-plate"}, t.ID)
}

// Access is a cover or part that has to come off.
type Access struct {
	ID           string  `json:"id"`
	OpenMinutes  float64 `json:"open_min"`
	CloseMinutes float64 `json:"close_min"`
	// Money is what taking it off uses up, in the yard's money: a gasket that is
	// not used twice (common practice; the price is invented).
	Money float64 `json:"money,omitempty"`
	// Refits are the faults that are gone once it is back, for they lay in how it
	// sat.
	Refits []string `json:"refits,omitempty"`
	// Frees are those that are gone as soon as it is off.
	Frees []string `json:"frees,omitempty"`
}

// Control is one of the machine's own controls.
type Control struct {
	ID        string   `json:"id"`
	Positions []string `json:"positions,omitempty"`
	Lever     bool     `json:"lever,omitempty"`
	Presses   bool     `json:"presses,omitempty"`
	AsFound   string   `json:"as_found"`
	Needs     Needs    `json:"needs,omitempty"`
}

// Hazard is a danger and the precautions that answer it.
type Hazard struct {
	ID          string   `json:"id"`
	Precautions []string `json:"precautions"`
	// Critical: to leave its precautions out can kill or burn. Common practice.
	Critical bool `json:"critical,omitempty"`
}

// Kinds of action.
const (
	ActPrecaution = "precaution"
	ActPrime      = "prime" // tip it to fill the well
	ActSpin       = "spin"  // turn it over with the plug out
	ActWarm       = "warm"  // start it and let it warm up
	ActState      = "state" // nothing that is done: how the machine has to stand
)

// Action is something done at the bench that is neither a test, a control, a
// cover nor a repair.
type Action struct {
	ID      string  `json:"id"`
	Kind    string  `json:"kind"`
	Minutes float64 `json:"minutes"`
	// Families that have it; empty for all.
	Families []string `json:"families,omitempty"`
	Access   []string `json:"access,omitempty"`
}

// Repairs is the table of repair × reach. A pair that has no entry of its own
// costs the act's own minutes and money, and mends nothing.
type Repairs struct {
	Acts    []RepairAct `json:"acts"`
	Entries []Repair    `json:"entries"`
}

// RepairAct is a kind of work, with what it takes where nothing better is known.
type RepairAct struct {
	ID      string  `json:"id"`
	Minutes float64 `json:"minutes"`
	Cost    float64 `json:"cost"`
	// Reach of an improvised repair, which is done there alone.
	Reach string `json:"reach,omitempty"`
	// Families that it is done on; empty for all.
	Families []string `json:"families,omitempty"`
}

// On says that such work is done on a family at a reach.
func (a *RepairAct) On(family, reach string) bool {
	return (a.Reach == "" || a.Reach == reach) && (len(a.Families) == 0 || slices.Contains(a.Families, family))
}

// Improvised says that this is what people do in a pinch, and not what the
// trade teaches.
func (a *RepairAct) Improvised() bool { return a.Reach != "" }

// Repair is one kind of work at one reach.
type Repair struct {
	Act     string   `json:"act"`
	Reach   string   `json:"reach"`
	Mends   []string `json:"mends"`
	Minutes float64  `json:"minutes"`
	// Cost of parts, in the yard's money.
	Cost float64 `json:"cost"`
	// Success is the chance that the work takes, 0 to 1.
	Success float64  `json:"success"`
	Access  []string `json:"access"`
	// Leaves is what such work can leave behind.
	Leaves []Leaving `json:"leaves,omitempty"`
}

// Leaving is a fault that work leaves behind, with its chance and how far gone.
type Leaving struct {
	Fault    string  `json:"fault"`
	Chance   float64 `json:"chance"`
	Severity float64 `json:"severity"`
}

//go:embed data/*.json
var data embed.FS

// Standard is the embedded catalogue. It panics if the embedded data does not
// hold together, which the package's own test rules out.
var Standard = sync.OnceValue(func() *Catalogue {
	c, err := load()
	if err != nil {
		panic(err)
	}
	return c
})

func load() (*Catalogue, error) {
	c := &Catalogue{}
	var lanes struct {
		Laterals []Lateral `json:"laterals"`
		Reaches  []Reach   `json:"reaches"`
	}
	for name, into := range map[string]any{
		"reaches": &lanes, "families": &c.Families, "figures": &c.Figures, "faults": &c.Faults, "causes": &c.Causes, "statements": &c.Statements, "advice": &c.Advice,
		"tests": &c.Tests, "access": &c.Access, "controls": &c.Controls, "hazards": &c.Hazards, "actions": &c.Actions, "repairs": &c.Repairs,
		"setups": &c.Setups, "instruments": &c.Instruments,
	} {
		raw, err := data.ReadFile("data/" + name + ".json")
		if err != nil {
			return nil, err
		}
		if err := json.Unmarshal(raw, into); err != nil {
			return nil, fmt.Errorf("%s.json: %w", name, err)
		}
	}
	c.Laterals, c.Reaches = lanes.Laterals, lanes.Reaches
	c.scaleTests()
	return c, c.Validate()
}

// scaleTests gives each number test the ends and division of its instrument.
func (c *Catalogue) scaleTests() {
	for i := range c.Tests {
		t := &c.Tests[i]
		in := c.Instrument(t.Instrument)
		if t.Accuracy == nil || in == nil || in.Scale == nil {
			continue
		}
		if t.Accuracy.Most == 0 {
			t.Accuracy.Least, t.Accuracy.Most = in.Scale.Least, in.Scale.Most
		}
		if t.Accuracy.Division == 0 {
			t.Accuracy.Division = in.Scale.Division
		}
	}
}

// Instrument gives one by its id, or nil.
func (c *Catalogue) Instrument(id string) *Instrument {
	return find(c.Instruments, id, func(i *Instrument) string { return i.ID })
}

// find returns a pointer to the entry with an id, or nil.
func find[T any](list []T, id string, idOf func(*T) string) *T {
	for i := range list {
		if idOf(&list[i]) == id {
			return &list[i]
		}
	}
	return nil
}

// Family gives a family by id, or nil.
func (c *Catalogue) Family(id string) *Family {
	return find(c.Families, id, func(f *Family) string { return f.ID })
}

// Reach gives a reach by id, or nil.
func (c *Catalogue) Reach(id string) *Reach {
	return find(c.Reaches, id, func(r *Reach) string { return r.ID })
}

// Fault gives a fault by id, or nil.
func (c *Catalogue) Fault(id string) *Fault {
	return find(c.Faults, id, func(f *Fault) string { return f.ID })
}

// Cause gives a cause by id, or nil.
func (c *Catalogue) Cause(id string) *Cause {
	return find(c.Causes, id, func(x *Cause) string { return x.ID })
}

// Statement gives one by id, or nil.
func (c *Catalogue) Statement(id string) *Statement {
	return find(c.Statements, id, func(x *Statement) string { return x.ID })
}

// AdviceText gives a sentence of advice by id, or nil.
func (c *Catalogue) AdviceText(id string) *Advice {
	return find(c.Advice, id, func(a *Advice) string { return a.ID })
}

// Test gives a test by id, or nil.
func (c *Catalogue) Test(id string) *Test {
	return find(c.Tests, id, func(t *Test) string { return t.ID })
}

// Cover gives an access step by id, or nil.
func (c *Catalogue) Cover(id string) *Access {
	return find(c.Access, id, func(a *Access) string { return a.ID })
}

// Control gives a control by id, or nil.
func (c *Catalogue) Control(id string) *Control {
	return find(c.Controls, id, func(x *Control) string { return x.ID })
}

// Hazard gives a hazard by id, or nil.
func (c *Catalogue) Hazard(id string) *Hazard {
	return find(c.Hazards, id, func(h *Hazard) string { return h.ID })
}

// Action gives an action by id, or nil.
func (c *Catalogue) Action(id string) *Action {
	return find(c.Actions, id, func(a *Action) string { return a.ID })
}

// ActionsOf lists the actions of a family; how the machine stands is none.
func (c *Catalogue) ActionsOf(family string) []Action {
	return slices.DeleteFunc(slices.Clone(c.Actions), func(a Action) bool {
		return a.Kind == ActState || (len(a.Families) > 0 && !slices.Contains(a.Families, family))
	})
}

// PrecautionsOf lists what answers a test's hazards, in the order of its
// hazards, each once.
func (c *Catalogue) PrecautionsOf(t *Test) []string {
	var out []string
	for _, h := range t.Hazards {
		for _, p := range c.Hazard(h).Precautions {
			if !slices.Contains(out, p) {
				out = append(out, p)
			}
		}
	}
	return out
}

// HazardOf is the hazard that a precaution answers at a test, the critical one before
// others; nil for none.
func (c *Catalogue) HazardOf(t *Test, precaution string) (best *Hazard) {
	for _, id := range t.Hazards {
		h := c.Hazard(id)
		if slices.Contains(h.Precautions, precaution) && (best == nil || h.Critical && !best.Critical) {
			best = h
		}
	}
	return best
}

// RepairAct gives a kind of repair by id, or nil.
func (c *Catalogue) RepairAct(id string) *RepairAct {
	return find(c.Repairs.Acts, id, func(a *RepairAct) string { return a.ID })
}

// Repair gives what a kind of work at a reach takes and mends. The act and the
// reach must be known.
func (c *Catalogue) Repair(act, reach string) Repair {
	for _, r := range c.Repairs.Entries {
		if r.Act == act && r.Reach == reach {
			return r
		}
	}
	a := c.RepairAct(act)
	return Repair{Act: act, Reach: reach, Minutes: a.Minutes, Cost: a.Cost, Success: 1}
}

// ReachesOf lists a family's reaches in order from source to cylinder.
func (c *Catalogue) ReachesOf(family string) []Reach {
	var out []Reach
	for _, r := range c.Reaches {
		if slices.Contains(r.Families, family) {
			out = append(out, r)
		}
	}
	return out
}

// FaultsOf lists the faults that a machine of a family can have by its sheet;
// without a sheet, those that some variant of the family can.
func (c *Catalogue) FaultsOf(family string, s Sheet) []Fault {
	fam := c.Family(family)
	var out []Fault
	for _, f := range c.Faults {
		if slices.Contains(f.Families, family) && f.Needs.met(fam, s) {
			out = append(out, f)
		}
	}
	return out
}

// ControlsOf lists the controls that a machine of a family has by its sheet.
func (c *Catalogue) ControlsOf(family string, s Sheet) []Control {
	fam := c.Family(family)
	var out []Control
	for _, id := range fam.Controls {
		if x := c.Control(id); x.Needs.met(fam, s) {
			out = append(out, *x)
		}
	}
	return out
}

// TestsOf lists the tests that a machine of a family has by its sheet, with
// the family's own access; without a sheet, those that some variant has.
func (c *Catalogue) TestsOf(family string, s Sheet) []Test {
	var out []Test
	for i := range c.Tests {
		if t := c.testFor(family, s, &c.Tests[i]); t != nil {
			out = append(out, *t)
		}
	}
	return out
}

// TestFor gives a test as a machine has it by its sheet, or nil if it has not.
func (c *Catalogue) TestFor(family string, s Sheet, id string) *Test {
	return c.testFor(family, s, c.Test(id))
}

func (c *Catalogue) testFor(family string, s Sheet, t *Test) *Test {
	fam := c.Family(family)
	if fam == nil || t == nil || (len(t.Families) > 0 && !slices.Contains(t.Families, family)) || !t.Needs.met(fam, s) {
		return nil
	}
	own := *t
	if a, ok := t.AccessFor[family]; ok {
		own.Access = a
	}
	if slices.ContainsFunc(own.Access, func(a string) bool { return !slices.Contains(fam.Covers, a) }) {
		return nil
	}
	if _, on := fam.Sheet[own.Figure]; !on {
		own.Figure = ""
	}
	if s["coil_test"].Word == "not-specified" && (own.Figure == "coil_primary_ohm" || own.Figure == "coil_secondary_kohm") {
		own.Figure = "" // ohms are compared with nothing
	}
	own.Parts = slices.DeleteFunc(slices.Clone(t.Parts), func(p Part) bool { return len(p.Families) > 0 && !slices.Contains(p.Families, family) })
	// The first is what the test itself is.
	for i := range own.Parts[:min(1, len(own.Parts))] {
		own.Parts[i].Unit, own.Parts[i].Figure, own.Parts[i].Words = own.Unit, own.Figure, own.Words
	}
	if len(own.Parts) == 1 {
		own.Parts = nil
	}
	return &own
}

// Rate is a fault's base rate on a family, relative.
func (f *Fault) Rate(family string) float64 {
	if r, ok := f.Rates[family]; ok {
		return r
	}
	return f.BaseRate
}

// AllRepairs lists every kind of work at every reach where it can be done.
func (c *Catalogue) AllRepairs() []Repair {
	var out []Repair
	for _, r := range c.Reaches {
		for _, a := range c.Repairs.Acts {
			if a.Reach != "" && a.Reach != r.ID {
				continue
			}
			out = append(out, c.Repair(a.ID, r.ID))
		}
	}
	return out
}
