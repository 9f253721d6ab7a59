package scenario

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/catalogue"
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

func TestPreviewShowsWhatDiffers(t *testing.T) {
	s := lift(machine.FaultSpec{ID: "coil-secondary-open"})
	rows, err := s.Preview()
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
	bad := lift(machine.FaultSpec{ID: "rings-worn", Severity: 3}, machine.FaultSpec{ID: "rings-worn", Severity: 0.5}, machine.FaultSpec{ID: "gremlins"})
	bad.Words, bad.Claim, bad.LimitMinutes, bad.Ambient.TemperatureC = " ", "haunted", 1, 99
	var paths []string
	for _, p := range bad.Check() {
		paths = append(paths, p.Path)
		assert.NotEmpty(t, p.Mend)
	}
	for _, want := range []string{"faults", "faults[0].severity", "faults[1].id", "faults[2].id", "words", "claim", "limit_minutes", "ambient.temperature_c"} {
		assert.Contains(t, paths, want)
	}
	assert.Equal(t, "faults", lift().Check()[0].Path)
}
