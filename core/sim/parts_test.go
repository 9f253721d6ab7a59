package sim

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/problem"
)

func part(t *testing.T, family, faults, test, id string) bench.Part {
	t.Helper()
	o := last(on(t, family, faults, test))
	p, ok := o.Parts[id]
	require.True(t, ok, "%s of %s: %v", id, test, o.Parts)
	return p
}

// A reading of several parts shows each by itself, with its unit and band; the
// first is what the old fields say; every part of the catalogue is read, on every
// family that has its test.
func TestPartsOfAReading(t *testing.T) {
	for _, family := range all4 {
		for _, x := range catalogue.Standard().TestsOf(family, nil) {
			if len(x.Parts) == 0 || len(x.Needs) > 0 {
				continue
			}
			o := last(on(t, family, "", ask(x.ID)))
			require.Len(t, o.Parts, len(x.Parts), "%s: %s", family, x.ID)
			for i, p := range x.Parts {
				seen := o.Parts[p.ID]
				switch {
				case i == 0:
					assert.Equal(t, bench.Part{Value: o.Value, Unit: o.Unit, Over: o.Over(), Word: o.Word, Band: o.Band}, seen)
				case p.IsNumber():
					assert.Equal(t, p.Unit, seen.Unit)
					assert.True(t, seen.Over || seen.Value != nil)
					if p.Figure != "" {
						require.NotNil(t, seen.Band)
						assert.Equal(t, "within", *seen.Band, "%s: %s %s", family, x.ID, p.ID)
					}
				default:
					assert.Contains(t, p.Words, *seen.Word)
				}
			}
		}
	}
	for _, s := range severities[2:] {
		for _, family := range strokes {
			clear := ask("valve-clearance")
			assert.Equal(t, "below", *part(t, family, way("valve-clearance-tight", s, "ex"), clear, "ex").Band, s)
			assert.Equal(t, "within", *part(t, family, way("valve-clearance-tight", s, "ex"), clear, "in").Band)
			assert.Equal(t, "above", *part(t, family, way("valve-clearance-wide", s, "in"), clear, "in").Band)
			assert.Equal(t, "within", *part(t, family, way("valve-clearance-wide", s, "in"), clear, "ex").Band)
			assert.Equal(t, "exhaust", *part(t, family, fault("valve-burnt", s), ask("leak-down"), "hiss").Word)
			assert.Equal(t, "joint", *part(t, family, fault("head-gasket-leaks", s), ask("leak-down"), "hiss").Word)
			assert.Equal(t, "oil-filler", *part(t, family, fault("rings-worn", s), ask("leak-down"), "hiss").Word)
		}
		low := part(t, stroke, way("screw-lean", s, "low"), ask("screw-count"), "low")
		assert.Equal(t, "below", *low.Band)
		for _, family := range all4 {
			assert.Equal(t, "cracked", *part(t, family, fault("plug-cracked", s), ask("plug-look"), "insulator").Word)
			assert.Equal(t, "above", *part(t, family, way("plug-gap-wrong", s, "wide"), ask("plug-look"), "gap").Band)
		}
	}
	assert.Equal(t, "sloshes", *part(t, four2, fault("float-sunk", "1"), ask("float-check"), "float").Word)
	assert.Equal(t, "water", *part(t, four2, fault("fuel-water", "0.6"), ask("bowl-drain"), "with").Word)
	assert.Equal(t, "empty", *part(t, four2, fault("needle-stuck-shut", "1"), ask("bowl-look"), "level").Word)
	assert.True(t, part(t, four2, "", ask("kill-continuity"), "run").Over, "open in RUN")
	assert.Less(t, *part(t, four2, "", ask("kill-continuity"), "stop").Value, 1.0, "and earthed in STOP")
	assert.False(t, part(t, four2, fault("kill-wire-earthed", "1"), ask("kill-continuity"), "run").Over)
}

// What is said of parts that are not, or not so, is said with where and how to
// mend it; a part that is left out is no error.
func TestPartsObserved(t *testing.T) {
	for in, want := range map[string]string{
		`{"test":"leak-down","observed":{"smell":"joint"}}`:        "sim.no-such-part",
		`{"test":"leak-down","observed":{}}`:                       "sim.no-such-part",
		`{"test":"leak-down","observed":{"hiss":"moon"}}`:          "sim.not-word",
		`{"test":"leak-down","observed":{"leak":"much"}}`:          "units.no-number",
		`{"test":"leak-down","observed":{"leak":[1]}}`:             "sim.no-reading",
		`{"test":"thumb-hole","observed":{"force":"weak"}}`:        "sim.reading-has-no-parts",
		`{"test":"valve-clearance","observed":{"ex":"0.1 litre"}}`: "unit",
	} {
		_, err := ReadSeen(strings.NewReader(`{"machine":"f4-bowl","events":[` + in + `]}`))
		var p *problem.Problem
		require.ErrorAs(t, err, &p, in)
		assert.Contains(t, p.Code, want, in)
		assert.Contains(t, p.Path, "events[0].observed", in)
	}
	seen, err := ReadSeen(strings.NewReader(`{"machine":"f4-bowl","events":[{"test":"leak-down","observed":{"hiss":"joint"}}]}`))
	require.NoError(t, err)
	assert.True(t, seen.Lines[0].Entry.Left)
	assert.Equal(t, "joint", seen.Lines[0].Entry.Parts["hiss"].Word)
}
