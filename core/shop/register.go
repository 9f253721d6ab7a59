package shop

import (
	"maps"
	"math"
	"regexp"
	"slices"
	"strings"
	"unicode/utf8"

	"zanjero/core/catalogue"
	"zanjero/core/instrument"
	"zanjero/core/ledger"
	"zanjero/core/problem"
)

// Instrument is a gauge, meter or tachometer as a shop's register has it.
type Instrument struct {
	Code string // as it is written on it, and what a device calls itself
	Name string
	// CheckedOn is the day of its last check, DueOn the day from which it is overdue, as
	// 2026-11-27.
	CheckedOn, DueOn string
	// Reads is how much it reads too high by its last check, in the unit of the test, for
	// each test that it is for; 0 for right.
	Reads map[string]float64
	Gone  bool // it is no longer in use
}

// codeForm is what an instrument may be called: what a device may call itself.
var codeForm = regexp.MustCompile(`^[\w.:-]{1,40}$`)

var dayForm = regexp.MustCompile(`^\d{4}-\d\d-\d\d$`)

const maxName = 80

// Check refuses an instrument that cannot be, with every place.
func (i *Instrument) Check() (out []problem.Problem) {
	add := func(path, code string, pairs ...any) { out = append(out, *problem.New(path, code, pairs...)) }
	if !codeForm.MatchString(i.Code) {
		add("code", "shop.instrument-code", "code", problem.Show(i.Code))
	}
	if n := utf8.RuneCountInString(strings.TrimSpace(i.Name)); n == 0 || n > maxName {
		add("name", "shop.instrument-name", "most", maxName)
	}
	if !dayForm.MatchString(i.CheckedOn) || !dayForm.MatchString(i.DueOn) || i.DueOn <= i.CheckedOn {
		add("due_on", "shop.due-before-checked")
	}
	if len(i.Reads) == 0 {
		add("reads", "shop.instrument-reads-nothing")
	}
	for _, id := range slices.Sorted(maps.Keys(i.Reads)) {
		t := catalogue.Standard().Test(id)
		switch {
		case t == nil || t.Kind != catalogue.KindNumber:
			add("reads", "shop.device-reads-numbers", "test", problem.Show(id))
		case !(math.Abs(i.Reads[id]) <= instrument.AccuracyOf(id).Most):
			add("reads."+id, "ledger.gauge-error-cannot-be", "error", i.Reads[id])
		}
	}
	return out
}

// Overdue says that on a day its next check was due before.
func (i *Instrument) Overdue(on string) bool { return on >= i.DueOn }

// Register is what a shop has, by code.
type Register map[string]*Instrument

// Gauge is an instrument as it stands in the register on a day, for a reading of a test. A
// reading that names none, and comes from no device of the register, has none: nil. It
// refuses one that is not there or not for the test.
func (r Register) Gauge(named *ledger.Gauge, device, test, on string) (*ledger.Gauge, *problem.Problem) {
	code := device
	if named != nil {
		code = named.ID
	}
	i := r[code]
	if i != nil && i.Gone {
		i = nil
	}
	switch {
	case i == nil && named == nil:
		return nil, nil
	case i == nil:
		return nil, problem.New("gauge", "shop.no-instrument", "code", problem.Show(code))
	}
	high, is := i.Reads[test]
	if !is && named == nil {
		return nil, nil
	}
	if !is {
		return nil, problem.New("gauge", "shop.instrument-not-for", "code", code, "test", test)
	}
	return &ledger.Gauge{ID: code, High: high, Overdue: i.Overdue(on)}, nil
}

// Readings puts to readings what the register knows of their gauges.
func (r Register) Readings(rs []ledger.HandReading, on string) *problem.Problem {
	for k := range rs {
		if rs[k].Gauge == nil {
			continue
		}
		g, p := r.Gauge(rs[k].Gauge, "", rs[k].Test, on)
		if p != nil {
			return p
		}
		rs[k].Gauge = g
	}
	return nil
}
