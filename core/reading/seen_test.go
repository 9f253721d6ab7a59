package reading_test

import (
	"maps"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/machine"
)

// lookAt makes a look on a machine as a master would, without noise.
func lookAt(t *testing.T, family, test string, faults ...machine.FaultSpec) bench.Observation {
	cat := catalogue.Standard()
	s, err := bench.NewSession(family, cat.Complete(family, nil), machine.Ambient{TemperatureC: 20}, faults, bench.Options{Technique: bench.Ideal, FuelML: -1})
	require.NoError(t, err)
	return s.Test(test, nil)
}

// faulty goes through every fault of every family in every mode, with every look at it.
func faulty(t *testing.T, see func(family, test string, sound bench.Observation, f catalogue.Fault, mode string)) {
	cat := catalogue.Standard()
	for _, fam := range cat.Families {
		for _, test := range cat.TestsOf(fam.ID, cat.Complete(fam.ID, nil)) {
			if !test.Named() || lookAt(t, fam.ID, test.ID).Seen == nil {
				continue
			}
			sound := lookAt(t, fam.ID, test.ID)
			for _, f := range cat.FaultsOf(fam.ID, cat.Complete(fam.ID, nil)) {
				for _, mode := range append([]string{""}, f.Modes...) {
					if mode != "" || len(f.Modes) == 0 {
						see(fam.ID, test.ID, sound, f, mode)
					}
				}
			}
		}
	}
}

// What is drawn goes by the word and the state: a look that is called as on a sound machine
// looks as on one, whatever is wrong; the same state looks the same; and the further a thing
// has gone, the further it is drawn, told apart at the latest at three tenths.
func TestLooksGoByTheirState(t *testing.T) {
	drawn := map[string]bool{}
	faulty(t, func(family, test string, sound bench.Observation, f catalogue.Fault, mode string) {
		at := func(severity float64) bench.Observation {
			return lookAt(t, family, test, machine.FaultSpec{ID: f.ID, Severity: severity, Mode: mode})
		}
		name := strings.Join([]string{family, test, f.ID, mode}, " ")
		var before bench.Observation
		for _, severity := range []float64{0.4, 0.7, 1} {
			o := at(severity)
			assert.Equal(t, o.Seen, at(severity).Seen, "%s looks the same twice", name)
			if *o.Word == *sound.Word {
				if test != "look-oil" && !parted(o, sound) { // an oil level is read within its word
					assert.Equal(t, sound.Seen, o.Seen, "%s is called as a sound one is", name)
				}
				continue
			}
			drawn[test+" "+*o.Word] = true
			assert.NotEqual(t, sound.Seen, o.Seen, "%s is called %s", name, *o.Word)
			if f.Graded && before.Word != nil && *before.Word == *o.Word && !slices.Contains(whole, test+" "+*o.Word) {
				assert.NotEqual(t, before.Seen, o.Seen, "%s at %v", name, severity)
			}
			before = o
		}
	})
	for _, word := range []string{"bowl-look varnish", "bowl-look water", "bowl-look grit", "jet-look part", "key-look sheared", "look-piston scored",
		"look-piston carboned", "look-arrestor clogged", "look-oil low", "look-oil over", "look-fuel stale", "look-fuel beads", "head-look valve-burnt"} {
		assert.True(t, drawn[word], "%s is met somewhere: %v", word, slices.Sorted(maps.Keys(drawn)))
	}
}

// parted says that a part of a look is called otherwise, as the level of a bowl.
func parted(a, b bench.Observation) bool {
	for id, p := range a.Parts {
		if p.Word != nil && *p.Word != *b.Parts[id].Word {
			return true
		}
	}
	return false
}

// whole are looks that are there or not, or that nothing further shows of.
var whole = []string{"spark-plug-earthed none", "spark-inline none", "oil-lead-off none", "vent-blow drilled", "vent-blow blocked", "passage-trace idle-shut",
	"passage-trace side-holes-shut", "gasket-look reversed", "primer-press hard", "thumb-hole none"}
