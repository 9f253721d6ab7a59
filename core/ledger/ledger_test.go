package ledger

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/reading"
	"zanjero/core/setup"
)

func bench4(t *testing.T, faults ...machine.FaultSpec) *Ledger {
	s, err := bench.NewSession("f4-bowl", catalogue.Standard().Family("f4-bowl").Sheet, machine.Ambient{TemperatureC: 20}, faults,
		bench.Options{Technique: bench.AsSet, Noise: true, Seed: 9, FuelML: -1})
	require.NoError(t, err)
	return New(s)
}

func (l *Ledger) must(t *testing.T, es ...Event) *Ledger {
	t.Helper()
	for _, e := range es {
		if p := l.Apply(e); p != nil {
			require.NoError(t, p, "%+v", e)
		}
	}
	return l
}

func act(a string, v any) Event { return Event{Kind: EventAct, Act: a, Value: v} }

// The needle climbs pull by pull and holds; let off, it falls to where it rests.
func TestGaugeClimbsPullByPull(t *testing.T) {
	l := bench4(t).must(t, Event{Kind: EventControl, Control: setup.Settings{"throttle": 1.0, "plug_lead": "earthed"}},
		Event{Kind: EventTake, Test: "compression-dry"})
	rest := l.Instrument().Needle
	assert.InDelta(t, reading.RestReadingPSI, rest, 2, "nobody has zeroed it")
	assert.False(t, l.Instrument().Ready)
	l.must(t, act("zero", nil))
	assert.Zero(t, l.Instrument().Needle)
	last := -1.0
	for range 5 {
		l.must(t, act("pull", nil))
		assert.GreaterOrEqual(t, l.Instrument().Needle, last)
		last = l.Instrument().Needle
	}
	assert.Greater(t, last, 50.0)
	l.must(t, act("let-off", nil))
	assert.Zero(t, l.Instrument().Needle)
	assert.Equal(t, 0, l.Instrument().Pulls)
}

// The gap is stepped out until the spark fails, and a poor earth fails sooner.
func TestSparkTesterIsSteppedOut(t *testing.T) {
	reach := func(earth string) (mm float64) {
		l := bench4(t).must(t, Event{Kind: EventTake, Test: "spark-gap"}, act("earth", earth))
		for gap := 2.0; gap <= 20; gap += 0.5 {
			l.must(t, act("gap", gap), act("pull", "brisk"))
			if l.Instrument().Spark == "none" {
				break
			}
			mm = gap
		}
		return mm
	}
	good, poor := reach("good"), reach("poor")
	assert.Greater(t, good, 12.0)
	assert.Less(t, poor, good-4)
	l := bench4(t).must(t, Event{Kind: EventControl, Control: setup.Settings{"switch": "stop"}}, Event{Kind: EventTake, Test: "spark-gap"}, act("pull", "brisk"))
	assert.Equal(t, "none", l.Instrument().Spark)
}

// The meter shows what its range can, and its leads until they are nulled.
func TestMeterRangesAndLeads(t *testing.T) {
	l := bench4(t).must(t, Event{Kind: EventTake, Test: "coil-secondary"})
	assert.Equal(t, "0.4", l.Instrument().Display, "the leads, held together")
	l.must(t, act("null", nil))
	assert.Equal(t, "0.0", l.Instrument().Display)
	l.must(t, act("touch", nil))
	assert.Equal(t, "OL", l.Instrument().Display, "kΩ on the lowest range")
	l.must(t, act("range", "20 kΩ"))
	assert.Regexp(t, `^[67]\.\d\d$`, l.Instrument().Display)
	l.must(t, act("range", "200 kΩ"))
	assert.Regexp(t, `^[67]\.\d$`, l.Instrument().Display)
	open := bench4(t, machine.FaultSpec{ID: "coil-secondary-open"}).must(t, Event{Kind: EventTake, Test: "coil-secondary"}, act("range", "200 kΩ"),
		act("touch", nil))
	assert.Equal(t, "OL", open.Instrument().Display)
	open.must(t, Event{Kind: EventEntry, Reading: "ol", Unit: "kΩ", Judged: "above"})
	assert.True(t, open.Latest().Entry.Over)
	assert.True(t, open.Latest().Obs.Over())
}

func TestCupFillsWithTime(t *testing.T) {
	l := bench4(t).must(t, Event{Kind: EventTake, Test: "fuel-flow"}, act("run", 60.0))
	minute := l.Instrument().Needle
	l.must(t, act("run", 15.0))
	assert.InDelta(t, minute/4, l.Instrument().Needle, 2)
	l.must(t, Event{Kind: EventEntry, Reading: "22", Unit: "ml/min", Judged: "below"})
	assert.Contains(t, l.Latest().Obs.Because, "timed")
}

// Writing again before anything moves corrects the entry; after a pull it is a
// new reading.
func TestEntriesCorrectAndRepeat(t *testing.T) {
	l := bench4(t).must(t, Event{Kind: EventTake, Test: "compression-dry"}, act("pull", nil), act("pull", nil))
	entry := func(s string) Event { return Event{Kind: EventEntry, Reading: s, Unit: "psi", Judged: "below"} }
	l.must(t, entry("26"), entry("62"))
	require.Len(t, l.Lines(), 1)
	assert.Equal(t, "62", l.Lines()[0].Entry.Typed)
	l.must(t, act("pull", nil), entry("64"))
	assert.Len(t, l.Lines(), 2)
	assert.Len(t, l.Events(), 7, "the ledger keeps both")
}

// A refused event changes nothing at all.
func TestRefusedEventsChangeNothing(t *testing.T) {
	l := bench4(t).must(t, Event{Kind: EventTake, Test: "compression-dry"}, act("pull", nil))
	before := l.Clone()
	for _, e := range []Event{
		{Kind: EventTake, Test: "x"}, {Kind: EventControl, Control: setup.Settings{"bar": "held"}}, {Kind: EventControl}, act("touch", nil), act("gap", 4.0),
		{Kind: EventEntry, Reading: "sixty", Unit: "psi", Judged: "below"}, {Kind: EventEntry, Reading: "60", Unit: "furlong", Judged: "below"},
		{Kind: EventEntry, Reading: "60", Unit: "mm", Judged: "below"}, {Kind: EventEntry, Reading: "60 mm", Unit: "psi", Judged: "below"},
		{Kind: EventEntry, Reading: "", Unit: "psi", Judged: "below"}, {Kind: EventEntry, Reading: "900000", Unit: "psi", Judged: "above"},
		{Kind: EventEntry, Reading: "60", Unit: "psi"},
		{Kind: EventMark, Reach: "jets", Mark: "maybe"}, {Kind: EventCover, Cover: "bonnet"}, {Kind: EventRepair, Repair: "polish", Reach: "jets"},
		{Kind: EventWait, Minutes: -1}, {Kind: "sing"},
		{Kind: EventTake, Test: "needle-test"}, // this family has no such needle
	} {
		p := l.Apply(e)
		require.NotNil(t, p, "%+v", e)
		assert.NotEmpty(t, p.Code)
	}
	assert.Equal(t, before.Seq(), l.Seq())
	assert.Equal(t, before.Minutes(), l.Minutes())
	assert.Equal(t, before.Instrument(), l.Instrument())
}

// Covers cost their minutes once, and what runs must be whole again.
func TestCoversAreSharedAndPutBack(t *testing.T) {
	l := bench4(t)
	cat := catalogue.Standard()
	plug, dry := cat.TestFor("f4-bowl", nil, "plug-look"), cat.TestFor("f4-bowl", nil, "compression-dry")
	assert.Equal(t, 2.0, l.AccessMinutes(plug))
	l.must(t, Event{Kind: EventTake, Test: "plug-look"})
	assert.Equal(t, []string{"plugout"}, l.Open())
	assert.Zero(t, l.AccessMinutes(dry), "opened once, shared")
	l.must(t, Event{Kind: EventTake, Test: "start-attempt"})
	assert.Empty(t, l.Open())
	l.must(t, Event{Kind: EventTake, Test: "look-filter"})
	l.must(t, Event{Kind: EventTake, Test: "start-attempt"})
	assert.Equal(t, []string{"filter"}, l.Open(), "what is off stays off until it is put back")
}

// The board is the last mark on each reach.
func TestBoardIsTheLastMark(t *testing.T) {
	l := bench4(t)
	for _, m := range []string{MarkSuspect, MarkCondemned, "", MarkClear} {
		l.must(t, Event{Kind: EventMark, Reach: "jets", Mark: m})
		if m == "" {
			assert.Empty(t, l.Board())
		} else {
			assert.Equal(t, map[string]string{"jets": m}, l.Board())
		}
	}
	assert.Len(t, l.Marks(), 4)
}

// The same seed and events give the same ledger; a copy goes on by itself.
func TestLedgerReplays(t *testing.T) {
	events := []Event{{Kind: EventTake, Test: "start-attempt"}, {Kind: EventTake, Test: "spark-gap"}, act("earth", "good"), act("gap", 9.0), act("pull", "brisk"),
		{Kind: EventEntry, Reading: "9", Unit: "mm", Judged: "below"}, {Kind: EventRepair, Repair: "clean", Reach: "jets"}, {Kind: EventWait, Minutes: 20},
		{Kind: EventTake, Test: "plug-look"}}
	a, b := bench4(t, machine.FaultSpec{ID: "rings-worn", Severity: 0.4}).must(t, events...), bench4(t,
		machine.FaultSpec{ID: "rings-worn", Severity: 0.4}).must(t, events...)
	assert.Equal(t, a.Lines(), b.Lines())
	assert.Equal(t, a.Machine().State(), b.Machine().State())
	c := a.Clone()
	c.must(t, Event{Kind: EventWait, Minutes: 60})
	assert.Equal(t, b.Minutes(), a.Minutes())
	assert.NotEqual(t, c.Minutes(), a.Minutes())
}

// A switch and a valve left wrong are seen only by looking or moving.
func TestControlsLeftWrongAreSeenByLooking(t *testing.T) {
	l := bench4(t, machine.FaultSpec{ID: "switch-off"})
	assert.Empty(t, l.Seen)
	l.must(t, Event{Kind: EventControl, Control: setup.Settings{"fuel_valve": "open"}})
	assert.Equal(t, map[string]bool{"fuel_valve": true}, l.Seen)
	l.must(t, Event{Kind: EventTake, Test: "look-switches"})
	assert.True(t, l.Seen["switch"])
	assert.Equal(t, "stop", *l.Latest().Obs.Word)
}
