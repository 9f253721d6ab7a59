package catalogue

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestEmbeddedDataHoldsTogether(t *testing.T) {
	_, err := load()
	require.NoError(t, err)
}

func TestValidateFindsWhatIsBroken(t *testing.T) {
	for want, breakIt := range map[string]func(c *Catalogue){
		"unknown cause":      func(c *Catalogue) { c.Faults[0].Causes = []string{"gremlins"} },
		"no repair mends it": func(c *Catalogue) { c.Repairs.Entries = c.Repairs.Entries[5:] },
		"no test is offered": func(c *Catalogue) { c.Tests = c.Tests[:1] },
		"used twice":         func(c *Catalogue) { c.Faults = append(c.Faults, c.Faults[0]) },
		"unknown cover":      func(c *Catalogue) { c.Tests[0].Access = []string{"bonnet"} },
		"compression_ratio: catalogue.figure-cannot-be": func(c *Catalogue) {
			c.Families[0].Sheet["compression_ratio"] = Figure{Low: 1, High: 1, Unit: ":1", Source: "s"}
		},
		"plug_gap_mm: catalogue.low-above-high": func(c *Catalogue) {
			c.Families[0].Sheet["plug_gap_mm"] = Figure{Low: 0.8, High: 0.7, Unit: "mm", Source: "s"}
		},
		"is not on its sheet":      func(c *Catalogue) { c.Families[0].Variants["ignition"] = []string{"points"} },
		"cannot leave":             func(c *Catalogue) { c.Repairs.Entries[0].Leaves = []Leaving{{"gremlins", 0.1, 1}} },
		"no precaution answers it": func(c *Catalogue) { c.Hazards[0].Precautions = nil },
	} {
		c, err := load()
		require.NoError(t, err)
		breakIt(c)
		assert.ErrorContains(t, c.Validate(), want)
	}
}

// Page by page of the trade: what a test proves is part of its definition.
func TestTestsProveNoMoreThanTheyDo(t *testing.T) {
	c := Standard()
	assert.NotContains(t, c.Test("fuel-flow").Proves, "cap-vent", "the open line breathes for the tank")
	assert.NotContains(t, c.Test("spark-gap").Proves, "plug", "the tester bypasses the plug")
	assert.NotContains(t, c.Test("spark-gap").Proves, "timing", "no tester proves timing")
	assert.Empty(t, c.Test("coil-secondary").Proves, "ohms in band do not prove a coil")
	assert.Empty(t, c.Test("dose-intake").Proves)
	for _, f := range c.Faults {
		assert.True(t, slices.ContainsFunc(c.Tests, func(x Test) bool { return slices.Contains(x.Reaches, f.Reach) }), f.ID)
	}
}

func TestRepairOfASoundPartCostsAndMendsNothing(t *testing.T) {
	r := Standard().Repair("adjust", "plug")
	assert.Positive(t, Standard().Repair("replace", "head-joint").Cost)
	assert.Positive(t, r.Minutes)
	assert.Empty(t, r.Mends)
}
