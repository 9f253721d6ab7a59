package shop_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/machine"
	"zanjero/core/shop"
)

const family = "f4-bowl"

var sheet = catalogue.Standard().Family(family).Sheet

// readings are what a hand would write down of a machine of the model.
func readings(t *testing.T, fault *machine.FaultSpec, seed uint64, tests ...string) (out []ledger.HandReading) {
	var faults []machine.FaultSpec
	if fault != nil {
		faults = append(faults, *fault)
	}
	s, err := bench.NewSession(family, sheet, machine.Ambient{TemperatureC: 20}, faults,
		bench.Options{Technique: bench.Ideal, Noise: seed > 0, Seed: seed, FuelML: -1})
	require.NoError(t, err)
	for _, id := range tests {
		o := s.Clone().Test(id, nil)
		r := ledger.HandReading{Test: id}
		switch {
		case o.Word != nil:
			r.Word = *o.Word
		case o.Value == nil:
			r.Reading, r.Unit = ledger.OverLimit, o.Unit
		default:
			r.Reading, r.Unit = fmt.Sprintf("%.3g", *o.Value), o.Unit
		}
		out = append(out, r)
	}
	return out
}

var tests = []string{"compression-dry", "spark-gap", "fuel-flow", "jet-look", "leak-down"}

// Readings that tell nothing of a fault leave its severity as it was put down.
func TestASeverityThatNothingTells(t *testing.T) {
	fault := machine.FaultSpec{ID: "needle-leaks", Severity: 0.7}
	fit, err := shop.Fit(t.Context(), family, sheet, fault, readings(t, &fault, 0, "spark-gap"))
	require.NoError(t, err)
	assert.InDelta(t, 0.7, fit.Severity, 0.026)
}

func card(t *testing.T) *shop.Card {
	return &shop.Card{Bug: shop.Bug{Fault: machine.FaultSpec{ID: "rings-worn", Severity: 0.8}, Done: "Rings of an old engine fitted.", Undo: "Own rings back.",
		Complaint: "weak", Words: "No power left.", Sound: readings(t, nil, 0, tests...)}, Acts: []shop.Act{{Kind: shop.Bugged}}}
}

// A card goes from the bug to the release, and no other way; the engine is released by who
// says so only when it reads as it did before.
func TestACardGoesItsWay(t *testing.T) {
	c := card(t)
	require.Empty(t, c.Bug.Check(family, sheet))
	refused := func(code string, a shop.Act) {
		p := c.Allow(a, family, sheet, "Tomasa Reyl")
		require.NotNil(t, p, "%+v", a)
		assert.Equal(t, code, p.Code)
	}
	do := func(a shop.Act) {
		require.Nil(t, c.Allow(a, family, sheet, "Tomasa Reyl"), "%+v", a)
		c.Acts = append(c.Acts, a)
	}
	bugged := readings(t, &c.Bug.Fault, 0, tests...)
	refused("shop.not-now", shop.Act{Kind: shop.Given})
	refused("shop.no-readings", shop.Act{Kind: shop.Seen, Symptom: true})
	refused("shop.symptom-not-there", shop.Act{Kind: shop.Seen, Readings: bugged})
	refused("ledger.no-test-machine", shop.Act{Kind: shop.Seen, Symptom: true, Readings: []ledger.HandReading{{Test: "moon"}}})
	do(shop.Act{Kind: shop.Seen, Symptom: true, Readings: bugged})
	assert.Equal(t, bugged, c.Scenario(family, sheet).Iron.Bugged)
	do(shop.Act{Kind: shop.Given})
	refused("shop.not-now", shop.Act{Kind: shop.Undone})
	refused("shop.not-now", shop.Act{Kind: shop.Given})
	do(shop.Act{Kind: shop.Back})
	do(shop.Act{Kind: shop.Undone, Symptom: true, Readings: bugged})
	refused("shop.not-as-before", shop.Act{Kind: shop.Released, Initials: "TR"})
	do(shop.Act{Kind: shop.Undone, Readings: c.Bug.Sound})
	refused("shop.symptom-still-there", shop.Act{Kind: shop.Released, Initials: "TR"})
	do(shop.Act{Kind: shop.Undone, Symptom: true, Readings: c.Bug.Sound})
	refused("shop.not-your-initials", shop.Act{Kind: shop.Released, Initials: "BL"})
	assert.True(t, c.Open())
	do(shop.Act{Kind: shop.Released, Initials: "t.r."})
	assert.False(t, c.Open())
	refused("shop.not-now", shop.Act{Kind: shop.Given})
}

func TestABugIsRefusedWithItsPlaces(t *testing.T) {
	b := card(t).Bug
	b.Done, b.Complaint, b.Fault.ID, b.Sound = " ", "moon", "moon", nil
	places := map[string]bool{}
	for _, p := range b.Check(family, sheet) {
		places[p.Path] = true
	}
	for _, want := range []string{"done", "faults[0].id", "sound"} {
		assert.True(t, places[want], "%s in %v", want, places)
	}
}

func TestInitials(t *testing.T) {
	for letters, ok := range map[string]bool{"TR": true, "tr": true, "T. R.": true, "": false, "T": false, "RT": false, "TRX": false} {
		assert.Equal(t, ok, shop.IsInitials(letters, "Tomasa Reyl"), letters)
	}
	assert.True(t, shop.IsInitials("AC", "Ana Berta Coro"))
	assert.True(t, shop.IsInitials("ÁBC", "Ána Berta Coro"))
	assert.False(t, shop.IsInitials("AB", ""))
}

// An engine of the model is explained by it, at about the severity that it has, whatever the
// noise of its instruments; one that reads like no such fault is said not to be.
func TestTheModelExplainsItsOwn(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 5))
	for range 8 {
		f := machine.FaultSpec{ID: "rings-worn", Severity: 0.3 + 0.6*r.Float64()}
		got, err := shop.Fit(t.Context(), family, sheet, machine.FaultSpec{ID: f.ID}, readings(t, &f, r.Uint64N(1000)+1, tests...))
		require.NoError(t, err)
		assert.InDelta(t, f.Severity, got.Severity, 0.3)
	}
	f := machine.FaultSpec{ID: "rings-worn", Severity: 0.6}
	got, err := shop.Fit(t.Context(), family, sheet, f, readings(t, &f, 0, tests...))
	require.NoError(t, err)
	assert.True(t, got.Explains, "%+v", got)
	assert.InDelta(t, 0.6, got.Severity, 0.051)
	wrong := readings(t, &machine.FaultSpec{ID: "coil-secondary-open", Severity: 1}, 0, tests...)
	got, err = shop.Fit(t.Context(), family, sheet, f, wrong)
	require.NoError(t, err)
	assert.False(t, got.Explains)
	assert.NotEmpty(t, got.Unexplained)
}

func FuzzABugIsReadOrRefused(f *testing.F) {
	f.Add([]byte(`{"fault":{"id":"rings-worn"},"done":"x","undo":"y","words":"z","complaint":"weak","sound":[{"test":"spark-gap","reading":"9 mm"}]}`))
	f.Add([]byte(`{"sound":[{"test":"leak-down","parts":{"gone":{"word":"x"}},"within":-1}]}`))
	f.Fuzz(func(t *testing.T, raw []byte) {
		var b shop.Bug
		if json.Unmarshal(raw, &b) != nil || len(b.Check(family, sheet)) > 0 {
			return
		}
		c := &shop.Card{Bug: b, Acts: []shop.Act{{Kind: shop.Bugged}}}
		_ = shop.Differ(family, sheet, b.Sound, b.Sound)
		if p := c.Allow(shop.Act{Kind: shop.Seen, Symptom: true, Readings: b.Sound}, family, sheet, "x"); p != nil {
			t.Fatal(p)
		}
	})
}

func TestWhatWaitsForInitials(t *testing.T) {
	assert.Equal(t, shop.HoldFirstStart, shop.HoldBefore(ledger.Event{Kind: ledger.EventHand, Test: "start-attempt"}))
	assert.Equal(t, shop.HoldTiedBar, shop.HoldBefore(ledger.Event{Kind: ledger.EventControl, Control: map[string]any{"bar": "tied"}}))
	for _, e := range []ledger.Event{{Kind: ledger.EventHand, Test: "spark-gap"}, {Kind: ledger.EventHand, Test: "moon"}, {Kind: ledger.EventMark},
		{Kind: ledger.EventControl, Control: map[string]any{"bar": "held"}}} {
		assert.Empty(t, shop.HoldBefore(e))
	}
	assert.True(t, shop.Observable(shop.ObservedSkill, "blade-blocked"))
	assert.False(t, shop.Observable(shop.ObservedHold, "blade-blocked"))
	assert.False(t, shop.Observable("", ""))
}
