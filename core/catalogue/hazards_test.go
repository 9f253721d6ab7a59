package catalogue_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"zanjero/core/catalogue"
	"zanjero/core/setup"
)

// A test's hazards follow from what it does; where one of them lacks, or lacks its
// precaution, this fails. What each act can do is common practice.
func TestHazardsFollowFromWhatIsDone(t *testing.T) {
	cat := catalogue.Standard()
	for i := range cat.Tests {
		x := &cat.Tests[i]
		has := func(ids ...string) bool {
			return slices.ContainsFunc(ids, func(id string) bool { return slices.Contains(x.Access, id) })
		}
		named := func(ids string) bool { return slices.Contains(strings.Fields(ids), x.ID) }
		runs := setup.Starts(x)
		spark := strings.HasPrefix(x.ID, "spark-") || x.ID == "oil-lead-off"
		for hazard, there := range map[string]bool{
			"moving-parts":    x.Cranks,
			"carbon-monoxide": runs || x.ID == "spark-inline", // which may start it
			"high-voltage":    spark || (x.Cranks && has("plugout")) || x.ID == "plug-swap",
			"fuel-mist":       spark || (x.Cranks && has("plugout") && !runs),
			"fire": has("bowlopen", "carboff", "lineoff") ||
				named("look-fuel jar-fuel bowl-drain vent-hiss vent-blow run-cap-loose line-look dose-intake dose-cylinder turn-by-hand"),
			"disposal":       named("fuel-flow bowl-drain bowl-look jar-fuel jet-look float-check"),
			"eyes":           named("leak-down crankcase-pressure needle-test line-pressure filter-blow vent-blow passage-trace turn-by-hand"),
			"crank-kick":     x.ID == "leak-down",
			"turned-by-hand": has("flyoff") || named("look-driven turn-by-hand leak-down tdc-magnet nut-torque valve-clearance air-gap"),
			"hot-parts":      has("muffoff", "headoff") || named("plug-look plug-torque plug-mark head-torque look-arrestor run-long hot-restart"),
			"no-stop":        named("spark-kill-off oil-lead-off"),
		} {
			if there {
				assert.Contains(t, x.Hazards, hazard, x.ID)
			}
		}
		for _, id := range x.Hazards {
			h := cat.Hazard(id)
			if assert.NotNil(t, h, "%s: %s", x.ID, id) {
				assert.NotEmpty(t, h.Precautions, id)
				for _, p := range h.Precautions {
					assert.Contains(t, cat.PrecautionsOf(x), p, x.ID)
				}
			}
		}
	}
}
