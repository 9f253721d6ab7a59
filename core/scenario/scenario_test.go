package scenario

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/ledger"
	"zanjero/core/machine"
)

func lift(faults ...machine.FaultSpec) *Scenario {
	return &Scenario{Family: "f4-bowl", Sheet: catalogue.Standard().Family("f4-bowl").Sheet, Ambient: machine.Ambient{TemperatureC: 20},
		Faults: faults, Words: "Coughs, never keeps going.", Claim: "only-on-choke", LimitMinutes: 60, LimitMoney: 40}
}

func TestComplaintIsHeldAgainstTheMachine(t *testing.T) {
	for _, c := range []struct {
		fault machine.FaultSpec
		claim string
		true_ bool
	}{
		{machine.FaultSpec{ID: "main-jet-blocked", Severity: 0.5}, "only-on-choke", true},
		{machine.FaultSpec{ID: "main-jet-blocked", Severity: 0.5}, "dies-later", false},
		{machine.FaultSpec{ID: "main-jet-blocked", Severity: 1}, "no-start", true},
		{machine.FaultSpec{ID: "main-jet-blocked", Severity: 1}, "only-on-choke", false},
		{machine.FaultSpec{ID: "cap-vent-blocked", Severity: 0.97}, "dies-later", true},
		{machine.FaultSpec{ID: "cap-vent-blocked", Severity: 0.97}, "no-start", false},
		{machine.FaultSpec{ID: "switch-off"}, "no-start", true},
		{machine.FaultSpec{ID: "rings-worn", Severity: 0.4}, "no-idle", true},
	} {
		s := lift(c.fault)
		s.Claim = c.claim
		p, err := s.Truth()
		require.NoError(t, err)
		assert.Equal(t, c.true_, p > 0.5, "%s %g: %s has %.2f", c.fault.ID, c.fault.Severity, c.claim, p)
	}
}

// Every family's own way of starting is known to its owner.
func TestComplaintOnEveryFamily(t *testing.T) {
	for _, fam := range catalogue.Standard().Families {
		for _, c := range []struct {
			fault machine.FaultSpec
			claim string
		}{
			{machine.FaultSpec{ID: "cap-vent-blocked", Severity: 0.98}, "dies-later"}, {machine.FaultSpec{ID: "gap-wide", Severity: 1}, "no-start"},
			{machine.FaultSpec{ID: "tank-empty"}, "no-start"},
		} {
			s := lift(c.fault)
			s.Family, s.Sheet, s.Claim = fam.ID, fam.Sheet, c.claim
			p, err := s.Truth()
			require.NoError(t, err)
			if c.claim == "dies-later" && fam.ID != "f4-bowl" && fam.ID != "f4-bail" {
				continue // a small tank starves at once
			}
			assert.Greater(t, p, 0.5, "%s: %s: %s", fam.ID, c.fault.ID, c.claim)
		}
		s := lift(machine.FaultSpec{ID: "tank-empty"})
		s.Family, s.Sheet = fam.ID, fam.Sheet
		s.Faults[0] = machine.FaultSpec{ID: "plug-gap-wrong", Severity: 0.05}
		s.Claim = "no-start"
		p, err := s.Truth()
		require.NoError(t, err)
		assert.Less(t, p, 0.5, "%s starts, near enough sound", fam.ID)
	}
}

// What a job gives room for: parts while there is money, proper work where only
// that is wanted, and in an exam nothing but writing down once the time is up.
func TestAllow(t *testing.T) {
	s := lift(machine.FaultSpec{ID: "main-jet-blocked", Severity: 0.6})
	l, err := s.Ledger(1)
	require.NoError(t, err)
	replace := ledger.Event{Kind: ledger.EventRepair, Repair: "replace", Reach: "jets"}
	assert.Nil(t, s.Allow(l, replace))
	s.LimitMoney = 10
	p := s.Allow(l, replace)
	require.NotNil(t, p)
	assert.Equal(t, "10.00", p.Params["left"])
	assert.NotEmpty(t, p.Code)
	assert.Nil(t, s.Allow(l, ledger.Event{Kind: ledger.EventRepair, Repair: "clean", Reach: "jets"}))
	for _, unknown := range []string{"", "moon"} {
		assert.Nil(t, s.Allow(l, ledger.Event{Kind: ledger.EventRepair, Repair: unknown, Reach: "jets"}), "that is for the ledger to refuse")
	}
	drill := ledger.Event{Kind: ledger.EventRepair, Repair: "drill-jet", Reach: "jets"}
	assert.Nil(t, s.Allow(l, drill))
	s.ProperOnly = true
	assert.NotNil(t, s.Allow(l, drill))
	require.Nil(t, l.Apply(ledger.Event{Kind: ledger.EventWait, Minutes: 70}))
	test := ledger.Event{Kind: ledger.EventTake, Test: "look-oil"}
	assert.Nil(t, s.Allow(l, test), "in an open job time is only counted")
	s.Mode = ModeExam
	assert.NotNil(t, s.Allow(l, test))
	assert.Nil(t, s.Allow(l, ledger.Event{Kind: ledger.EventCover, Cover: "filter"}))
	s.Mode = "nap"
	assert.Equal(t, "mode", s.Check()[0].Path)
}

// What is offered next follows what was written down and not what is hidden: two
// jobs with the same ledger are offered the same.
func TestNextKnowsNothingHidden(t *testing.T) {
	if testing.Short() {
		t.Skip("long: it runs without the race detector")
	}
	offer := func(f machine.FaultSpec) []string {
		s := lift(f)
		s.Claim = "no-start"
		l, err := s.Ledger(1)
		require.NoError(t, err)
		return offered(t, hints(t, s), l)
	}
	a := offer(machine.FaultSpec{ID: "coil-secondary-open"})
	assert.NotEmpty(t, a)
	assert.Equal(t, a, offer(machine.FaultSpec{ID: "tank-empty"}))
}

// Hints that follow an attempt act by act say what fresh ones would, and so they
// do when what they took in is corrected.
func TestHintsFollowAnAttempt(t *testing.T) {
	if testing.Short() {
		t.Skip("long: it runs without the race detector")
	}
	s := lift(machine.FaultSpec{ID: "main-jet-blocked", Severity: 0.8})
	s.Claim = "no-start"
	l, err := s.Ledger(1)
	require.NoError(t, err)
	h := hints(t, s)
	for _, e := range []ledger.Event{
		{Kind: ledger.EventTake, Test: "start-attempt"}, {Kind: ledger.EventTake, Test: "plug-look"}, {Kind: ledger.EventEntry, Word: "wet"},
		{Kind: ledger.EventTake, Test: "look-switches"}, {Kind: ledger.EventEntry, Word: "dry"}, {Kind: ledger.EventRepair, Repair: "clean", Reach: "jets"},
	} {
		_ = l.Apply(e)
		assert.Equal(t, offered(t, hints(t, s), l), offered(t, h, l), "after %+v", e)
	}
}

func hints(t *testing.T, s *Scenario) *Hints {
	pop, err := s.Population(t.Context(), nil)
	require.NoError(t, err)
	return s.Hints(pop)
}

func offered(t *testing.T, h *Hints, l *ledger.Ledger) (out []string) {
	next, err := h.Next(t.Context(), l.Lines())
	require.NoError(t, err)
	for _, w := range next {
		out = append(out, w.Test)
	}
	return out
}

func TestPreviewShowsWhatDiffers(t *testing.T) {
	s := lift(machine.FaultSpec{ID: "coil-secondary-open"})
	rows, err := s.Preview(context.Background())
	require.NoError(t, err)
	differ := map[string]bool{}
	for _, r := range rows {
		differ[r.Test] = r.Differs
	}
	assert.True(t, differ["coil-secondary"] && differ["spark-gap"] && differ["start-attempt"])
	assert.False(t, differ["coil-primary"] || differ["compression-dry"] || differ["fuel-flow"] || differ["jet-look"])
}

func TestCheckNamesEveryProblem(t *testing.T) {
	assert.Empty(t, lift(machine.FaultSpec{ID: "switch-off"}).Check())
	bad := lift(machine.FaultSpec{ID: "rings-worn", Severity: 3}, machine.FaultSpec{ID: "rings-worn", Severity: 0.5}, machine.FaultSpec{ID: "gremlins"},
		machine.FaultSpec{ID: "switch-off"})
	bad.Words, bad.Claim, bad.LimitMinutes, bad.Ambient.TemperatureC = " ", "haunted", 1, 99
	var paths []string
	for _, p := range bad.Check() {
		paths = append(paths, p.Path)
		assert.NotEmpty(t, p.Code)
	}
	for _, want := range []string{"faults", "faults[0].severity", "faults[1].id", "faults[2].id", "words", "claim", "limit_minutes", "ambient.temperature_c"} {
		assert.Contains(t, paths, want)
	}
	assert.Equal(t, "faults", lift().Check()[0].Path)
}

// A job goes by the yard's own minutes as they were when it was given.
func TestOwnMinutesGoWithTheJob(t *testing.T) {
	s := lift(machine.FaultSpec{ID: "main-jet-blocked", Severity: 0.5})
	s.Own = &catalogue.Own{Tests: map[string]float64{"look-oil": 9}}
	l, err := s.Ledger(1)
	require.NoError(t, err)
	require.Nil(t, l.Apply(ledger.Event{Kind: ledger.EventTake, Test: "look-oil"}))
	assert.InDelta(t, 9, l.Minutes(), 1e-9)
	pop, err := s.Population(t.Context(), nil)
	require.NoError(t, err)
	rank, err := pop.Start(diagnosis.Recorded).Rank(t.Context(), diagnosis.Weights{}, "look-oil")
	require.NoError(t, err)
	assert.InDelta(t, 9, rank[0].Minutes, 1e-9)
}
