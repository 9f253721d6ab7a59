package assess

import (
	"encoding/json"
	"fmt"
	"maps"
	"math"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/ledger/ledgertest"
	"zanjero/core/machine"
	"zanjero/core/scenario"
	"zanjero/core/setup"
)

func job(claim string, faults ...machine.FaultSpec) *scenario.Scenario {
	return &scenario.Scenario{Family: "f4-bowl", Sheet: catalogue.Standard().Family("f4-bowl").Sheet, Ambient: machine.Ambient{TemperatureC: 20},
		Faults: faults, Words: "Coughs.", Claim: claim, LimitMinutes: 60, LimitMoney: 40}
}

// recorder records the events of a competent tester's work, and whatever is
// done by hand in between.
type recorder struct {
	t  *testing.T
	l  *ledger.Ledger
	sc *scenario.Scenario
}

const seed = 42

// begin opens a bench. Where the run is to be short one attempt is judged, for all.
func begin(t *testing.T, sc *scenario.Scenario) *recorder {
	if testing.Short() && t.Name() != "TestGoodWorkIsProven" {
		t.Skip("it weighs attempts")
	}
	l, err := sc.Ledger(seed)
	require.NoError(t, err)
	return &recorder{t, l, sc}
}

func (r *recorder) do(es ...ledger.Event) *recorder {
	for _, e := range es {
		require.Nil(r.t, r.l.Apply(e), e)
	}
	return r
}

func (r *recorder) work(tests ...string) *recorder {
	ledgertest.Work(r.t, r.l, tests...)
	return r
}

func (r *recorder) handOver(h HandOver) *Assessment {
	require.Empty(r.t, h.Check(r.sc.Family, r.l.Seq()))
	a, err := Assess(r.t.Context(), Input{Scenario: r.sc, Seed: seed, Events: r.l.Events(), Hand: h, Answers: answersOf(r.t, r.sc)})
	require.NoError(r.t, err)
	_, err = json.Marshal(a)
	require.NoError(r.t, err)
	return a
}

func section(a *Assessment, id string) Section {
	for _, s := range a.Sections {
		if s.ID == id {
			return s
		}
	}
	return Section{}
}

// reasons are the codes of a section with their parameters, a line each.
func reasons(s Section) string { return lines(s.Reasons) }

func lines(rs []Reason) string {
	var out []string
	for _, r := range rs {
		out = append(out, fmt.Sprint(r.Code, " ", r.Params))
	}
	return strings.Join(out, "\n")
}

var (
	jet    = machine.FaultSpec{ID: "main-jet-blocked", Severity: 0.55}
	tidied = ledger.Event{Kind: "control", Control: setup.Settings{"plug_lead": "on", "kill_lead": "on", "choke": 1.0, "throttle": 0.3}}
)

func closeAll(r *recorder) *recorder {
	for _, id := range r.l.Open() {
		r.do(ledger.Event{Kind: "cover", Cover: id, Off: false})
	}
	return r
}

// The whole job done well: found by readings, repaired, proved, put back.
func TestGoodWorkIsProven(t *testing.T) {
	r := begin(t, job("only-on-choke", jet)).work("start-attempt", "dose-intake", "spark-gap", "bowl-look", "jet-look")
	evidence := []int{r.l.Latest().Seq}
	r.do(ledger.Event{Kind: "mark", Reach: "jets", Mark: "condemned"}, ledger.Event{Kind: "mark", Reach: "coil", Mark: "clear"},
		ledger.Event{Kind: "mark", Reach: "flywheel", Mark: "clear"},
		ledger.Event{Kind: "repair", Repair: "replace", Reach: "jets"}, ledger.Event{Kind: "do", Do: "wipe-spill"}, tidied)
	closeAll(r).work("start-attempt")
	a := r.handOver(HandOver{Findings: []Finding{{Reach: "jets", Fault: "main-jet-blocked", Filing: Root, Evidence: evidence}}, Cause: "stored-with-fuel",
		Advice: "drain-before-storage", Verdict: Repaired, ProofSeq: r.l.Latest().Seq})
	assert.Equal(t, Proven, a.Class, a.Verdict)
	assert.Greater(t, section(a, "conclusion").Mark, 32.0, reasons(section(a, "conclusion")))
	assert.Equal(t, 10.0, section(a, "proof").Mark, reasons(section(a, "proof")))
	assert.Greater(t, section(a, "readings").Mark, 19.0, reasons(section(a, "readings")))
	assert.True(t, a.Truth[0].Mended)
	assert.Empty(t, a.HandedBack)
	assert.Empty(t, a.Wasted)
	assert.Greater(t, a.Points[0].Bits, a.Points[len(a.Points)-1].Bits)
	assert.Equal(t, "condemned", a.Points[len(a.Points)-1].Evidence["jets"])
	assert.Equal(t, "clear", a.Points[len(a.Points)-1].Evidence["flywheel"])
	var sum float64
	for _, s := range a.Sections {
		assert.LessOrEqual(t, s.Mark, s.Of)
		assert.NotEmpty(t, s.Reasons)
		sum += s.Of
	}
	assert.Equal(t, 100.0, sum)
	again, err := Assess(t.Context(), Input{Scenario: r.sc, Seed: seed, Events: r.l.Events(), Hand: a.Hand})
	require.NoError(t, err)
	assert.Equal(t, a, again, "an old attempt replays to the same assessment")
}

func TestClassesOfConclusion(t *testing.T) {
	name := func(reach string) HandOver {
		return HandOver{Findings: []Finding{{Reach: reach, Filing: Root}}, Verdict: ReferOn, ProofSeq: -1}
	}
	for _, c := range []struct {
		sc    *scenario.Scenario
		tests []string
		named string
		class string
	}{
		{job("only-on-choke", jet), []string{"start-attempt", "bowl-look", "jet-look", "passage-trace"}, "jets", Proven},
		{job("only-on-choke", jet), []string{"start-attempt", "passage-trace"}, "jets", Supported},
		{job("no-start", machine.FaultSpec{ID: "coil-secondary-open"}), nil, "coil", Guessed},
		{job("no-start", machine.FaultSpec{ID: "coil-secondary-open"}), []string{"start-attempt"}, "jets", StoppedEarly},
		{job("no-start", machine.FaultSpec{ID: "coil-secondary-open"}), []string{"spark-gap", "coil-secondary"}, "piston-rings-bore", Contradicted},
		{job("no-start", machine.FaultSpec{ID: "coil-secondary-open"}), []string{"start-attempt", "spark-gap", "coil-secondary"}, "coil", Proven},
		{job("no-start", machine.FaultSpec{ID: "rings-worn", Severity: 0.9}), []string{"spark-gap", "compression-dry"}, "coil", Contradicted},
	} {
		a := begin(t, c.sc).work(c.tests...).handOver(name(c.named))
		assert.Equal(t, c.class, a.Class, "%v named %s: %s", c.sc.Faults, c.named, a.Verdict)
	}
}

// Who writes down what was not there and follows their record is misled by it: the
// debrief says by which test, whatever the test.
func TestMisled(t *testing.T) {
	for _, c := range []struct{ test, word, reach string }{{"jet-look", "none", "jets"}, {"key-look", "sheared", "timing"}, {"plug-look", "cracked", "plug"}} {
		r := begin(t, job("no-start", machine.FaultSpec{ID: "coil-secondary-open"})).work("start-attempt").
			do(ledger.Event{Kind: "take", Test: c.test}, ledger.Event{Kind: "entry", Word: c.word})
		a := r.handOver(HandOver{Findings: []Finding{{Reach: c.reach, Filing: Root}}, Verdict: ReferOn, ProofSeq: -1})
		assert.Equal(t, Misled, a.Class, "%v: %s", c, lines(a.Verdict))
		assert.Equal(t, c.test, a.Verdict[0].Params["test"])
		assert.Greater(t, a.Standings.Shown["coil-secondary-open"], 3*a.Standings.Recorded["coil-secondary-open"], "as shown it pointed elsewhere")
	}
}

// A reading taken wrong that pointed the wrong way: the debrief says so.
func TestThrottleShutMisleads(t *testing.T) {
	r := begin(t, job("only-on-choke", jet)).do(
		ledger.Event{Kind: "control", Control: setup.Settings{"throttle": 0.0, "choke": 0.0, "plug_lead": "earthed"}},
		ledger.Event{Kind: "take", Test: "compression-dry"}, ledger.Event{Kind: "act", Act: "zero"},
		ledger.Event{Kind: "act", Act: "pull"}, ledger.Event{Kind: "act", Act: "pull"}, ledger.Event{Kind: "act", Act: "pull"}, ledger.Event{Kind: "act",
			Act: "pull"})
	shown := math.Round(r.l.Instrument().Needle)
	r.do(ledger.Event{Kind: "entry", Reading: strconv.Itoa(int(shown)), Unit: "psi", Judged: "below"},
		ledger.Event{Kind: "mark", Reach: "piston-rings-bore", Mark: "condemned"},
		ledger.Event{Kind: "repair", Repair: "replace", Reach: "piston-rings-bore"})
	a := r.handOver(HandOver{Findings: []Finding{{Reach: "piston-rings-bore", Filing: Root}}, Verdict: Repaired, ProofSeq: -1})
	require.Len(t, a.Readings, 1)
	rd := a.Readings[0]
	assert.False(t, rd.Valid)
	assert.Less(t, rd.ErrorBySetup, -10.0, "the throttle cost more than 10 psi")
	assert.True(t, rd.ReadRight)
	assert.Contains(t, reasons(section(a, "readings")), "reading.invalid-by map[conditions:[throttle-open")
	assert.Len(t, a.Wasted, 1)
	assert.Contains(t, a.HandedBack, bench.Left{Kind: bench.LeftControl, Item: "plug_lead"})
	assert.Contains(t, a.HandedBack, bench.Left{Kind: bench.LeftFault, Item: "main-jet-blocked"})
	assert.Less(t, section(a, "conclusion").Mark, 15.0)
	assert.Greater(t, a.Standings.AsIfValid["rings-worn"], 3*a.Standings.Recorded["rings-worn"])
}

// Handing over at once, with nothing done, is judged and not a failure.
func TestNothingDone(t *testing.T) {
	a := begin(t, job("only-on-choke", jet)).handOver(HandOver{Findings: []Finding{{Reach: "jets", Filing: Root}}, Verdict: ReferOn, ProofSeq: -1})
	raw, err := json.Marshal(a)
	require.NoError(t, err)
	assert.NotContains(t, string(raw), "null")
	assert.Zero(t, section(a, "readings").Mark)
	assert.Len(t, a.Points, 1)
}

func TestSlipsAreNamed(t *testing.T) {
	for _, c := range []struct {
		typed, shown, division float64
		want                   string
	}{
		{427, 62, 2, SlipUnit}, {6820, 6.82, 0.01, SlipUnit}, {135, 13.5, 0.5, SlipDecimal},
		{26, 62, 2, SlipDigits}, {44.5, 89, 2, SlipFactorTwo}, {80, 62, 2, SlipOffMark},
	} {
		assert.Equal(t, c.want, slip(c.typed, c.shown, c.division))
	}
}

// Two faults hidden: naming one of them is stopping early.
func TestStoppingAtTheFirstOfTwo(t *testing.T) {
	sc := job("no-start", machine.FaultSpec{ID: "coil-secondary-open"}, machine.FaultSpec{ID: "main-jet-blocked", Severity: 0.7})
	r := begin(t, sc).work("start-attempt", "spark-gap", "coil-secondary").do(ledger.Event{Kind: "repair", Repair: "replace", Reach: "coil"}, tidied).
		work("start-attempt")
	a := r.handOver(HandOver{Findings: []Finding{{Reach: "coil", Filing: Root}}, Verdict: Repaired, ProofSeq: r.l.Latest().Seq})
	assert.Equal(t, StoppedEarly, a.Class, a.Verdict)
	assert.Contains(t, lines(a.Verdict), "conclusion.not-named map[fault:main-jet-blocked")
	assert.Contains(t, reasons(section(a, "proof")), "proof.ended-badly")
}

// The vent needs its minutes: a short proof run proves nothing.
func TestProofMustBeLongEnough(t *testing.T) {
	sc := job("dies-later", machine.FaultSpec{ID: "cap-vent-blocked", Severity: 0.97})
	hand := HandOver{Findings: []Finding{{Reach: "cap-vent", Filing: Root}}, Verdict: Repaired, ProofSeq: -1}
	fix := ledger.Event{Kind: "repair", Repair: "replace", Reach: "cap-vent"}
	run := func(min float64, offered bool) *Assessment {
		r := begin(t, sc).work("start-attempt", "run-long").do(fix, ledger.Event{Kind: "control", Control: setup.Settings{"choke": 0.0}},
			ledger.Event{Kind: "take", Test: "run-long", Setup: setup.Settings{"minutes": min, "load": "test"}})
		if hand.ProofSeq = -1; offered {
			hand.ProofSeq = r.l.Latest().Seq
		}
		return r.handOver(hand)
	}
	assert.Equal(t, Proved{false, ProofShort}, run(1, true).Proof)
	assert.Equal(t, Proved{true, ""}, run(20, true).Proof)
	assert.Equal(t, Proved{false, ProofNotOffered}, run(20, false).Proof)
	assert.Equal(t, Proved{false, ProofNone}, run(1, false).Proof)
}

// Looking is cheap: the switch in STOP is found by a look, and putting it to
// RUN is the repair.
func TestSwitchInStop(t *testing.T) {
	r := begin(t, job("no-start", machine.FaultSpec{ID: "switch-off"})).work("start-attempt", "look-switches").
		do(ledger.Event{Kind: "control", Control: setup.Settings{"switch": "run"}}).work("start-attempt")
	hand := HandOver{Findings: []Finding{{Reach: "kill-circuit", Fault: "switch-off", Filing: Root}}, Cause: "operator-setting",
		Advice: "show-the-switch", Verdict: Repaired, ProofSeq: -1}
	assert.Equal(t, 9.0, section(r.handOver(hand), "proof").Mark, "a run that is not offered as proof")
	hand.ProofSeq = r.l.Lines()[1].Seq
	assert.Contains(t, reasons(section(r.handOver(hand), "proof")), "proof.before-repair")
	hand.ProofSeq = r.l.Latest().Seq
	a := r.handOver(hand)
	assert.Equal(t, Proven, a.Class, a.Verdict)
	assert.True(t, a.Truth[0].Mended)
	assert.Equal(t, 10.0, section(a, "proof").Mark, reasons(section(a, "proof")))
}

func TestHandOverIsChecked(t *testing.T) {
	bad := HandOver{Findings: []Finding{{Reach: "moon", Fault: "rings-worn", Filing: "maybe", Evidence: []int{99}}}, Cause: "gremlins", Advice: "pray",
		Verdict: "fine", ProofSeq: 7}
	var paths []string
	for _, p := range bad.Check("f4-bowl", 5) {
		paths = append(paths, p.Path)
	}
	assert.ElementsMatch(t, []string{"verdict", "findings[0].reach", "findings[0].fault", "findings[0].filing", "findings[0].evidence",
		"cause", "advice", "proof_seq"}, paths)
}

// A cause filed as incidental is a cause all the same, and a sound part that is
// accused costs.
func TestFilingAndFalseAccusation(t *testing.T) {
	r := begin(t, job("only-on-choke", jet)).work("start-attempt", "bowl-look", "jet-look")
	base := HandOver{Findings: []Finding{{Reach: "jets", Fault: "main-jet-blocked", Filing: Root, Evidence: []int{r.l.Latest().Seq}}}, Verdict: ReferOn,
		ProofSeq: -1}
	right := section(r.handOver(base), "conclusion")
	wrong := base
	wrong.Findings = append([]Finding{{Reach: "coil", Filing: Contributing}}, base.Findings...)
	accused := section(r.handOver(wrong), "conclusion")
	assert.Less(t, accused.Mark, right.Mark-3)
	assert.Contains(t, reasons(accused), "conclusion.falsely-accused")
	hidden := base
	hidden.Findings = []Finding{{Reach: "jets", Fault: "main-jet-blocked", Filing: Incidental}, {Reach: "plug", Filing: Root}}
	a := r.handOver(hidden)
	assert.Contains(t, reasons(section(a, "conclusion")), "filing.cause-filed-otherwise")
	assert.NotEqual(t, Proven, a.Class)
	none := base
	none.Findings = []Finding{{Reach: "jets", Filing: Root}}
	assert.Contains(t, reasons(section(r.handOver(none), "conclusion")), "filing.no-entry")
}

// The symptom for the cause: a fouled plug, and the choke that fouled it.
func TestSymptomForCause(t *testing.T) {
	sc := job("no-start", machine.FaultSpec{ID: "choke-stuck-shut", Severity: 1})
	a := begin(t, sc).work("start-attempt", "plug-look").handOver(HandOver{Findings: []Finding{{Reach: "plug", Fault: "plug-fouled", Filing: Root}},
		Verdict: ReferOn, ProofSeq: -1})
	assert.Equal(t, Symptom, a.Class, a.Verdict)
	assert.Equal(t, "conclusion.symptom-for-cause", a.Verdict[0].Code)
}

// How far up the chain of causes: swarf on the coil, because the brake drags,
// because it is worn.
func TestChainOfCauses(t *testing.T) {
	swarf := machine.FaultSpec{ID: "coil-swarf", Severity: 1, Cause: "brake-drags"}
	sc := job("no-start", swarf)
	sc.Family, sc.Sheet = "f4-bail", catalogue.Standard().Family("f4-bail").Sheet
	root := Finding{Reach: "air-gap", Fault: "coil-swarf", Filing: Root}
	brake := Finding{Reach: catalogue.Standard().Fault("brake-drags").Reach, Fault: "brake-drags", Filing: Contributing}
	r := begin(t, sc)
	mark := func(cause string, more ...Finding) (float64, string) {
		s := section(r.handOver(HandOver{Findings: append([]Finding{root}, more...), Cause: cause, Verdict: ReferOn, ProofSeq: -1}), "conclusion")
		return s.Mark, reasons(s)
	}
	open, text := mark("")
	assert.Contains(t, text, "cause.open")
	wrong, text := mark("stored-open")
	assert.Contains(t, text, "cause.wrong")
	half, text := mark("brake-drags")
	assert.Contains(t, text, "cause.part map[chain:[coil-swarf brake-drags age-wear] links:2 named:1]")
	whole, text := mark("age-wear", brake)
	assert.Contains(t, text, "cause.right")
	assert.NotContains(t, text, "conclusion.falsely-accused", "a fault behind the hidden one is no false accusation")
	assert.InDeltaSlice(t, []float64{0, 2, 4}, []float64{wrong - open, half - open, whole - open}, 0.11)
	require.NotEmpty(t, (&HandOver{Findings: []Finding{root}, Cause: "coil-weak", Verdict: ReferOn, ProofSeq: -1}).Check("f4-bail", 0),
		"a fault that leads to no other is no cause")
}

// A cleared reach must stand on evidence: a low prior alone clears nothing, and
// a flow with the line off does not clear the vent.
func TestBoardMarksStandOnEvidence(t *testing.T) {
	r := begin(t, job("dies-later", machine.FaultSpec{ID: "cap-vent-blocked", Severity: 0.97})).work("fuel-flow").
		do(ledger.Event{Kind: "mark", Reach: "fuel-valve", Mark: "clear"},
			ledger.Event{Kind: "mark", Reach: "fuel-line", Mark: "clear"}, ledger.Event{Kind: "mark", Reach: "cap-vent", Mark: "clear"},
			ledger.Event{Kind: "mark", Reach: "timing", Mark: "clear"})
	s := section(r.handOver(HandOver{Findings: []Finding{{Reach: "cap-vent", Filing: Root}}, Verdict: ReferOn, ProofSeq: -1}), "conclusion")
	text := reasons(s)
	assert.Contains(t, text, "reach:cap-vent")
	assert.Contains(t, text, "reach:timing")
	assert.NotContains(t, text, "reach:fuel-valve")
	assert.Contains(t, text, "reach:fuel-line", "what boils in the line flows when it is cold")
	assert.Contains(t, text, "cannot:@test.fuel-flow.cannot", "the debrief says why")
}

// Every kind of misreading shows in the review, and leaves the shown belief
// where it was.
func TestMisreadingIsKeptApart(t *testing.T) {
	r := begin(t, job("only-on-choke", jet)).do(
		ledger.Event{Kind: "control", Control: setup.Settings{"throttle": 1.0, "choke": 0.0, "plug_lead": "earthed"}},
		ledger.Event{Kind: "take", Test: "compression-dry"}, ledger.Event{Kind: "act", Act: "zero"})
	for range 6 {
		r.do(ledger.Event{Kind: "act", Act: "pull"})
	}
	kpa := r.l.Instrument().Needle * 6.894757
	r.do(ledger.Event{Kind: "entry", Reading: strconv.Itoa(int(math.Round(kpa))), Unit: "psi", Judged: "above"})
	a := r.handOver(HandOver{Findings: []Finding{{Reach: "decompressor", Filing: Root}}, Verdict: ReferOn, ProofSeq: -1})
	require.Len(t, a.Readings, 1)
	assert.Equal(t, SlipScale, a.Readings[0].Slip)
	assert.True(t, a.Readings[0].Valid)
	assert.True(t, a.Readings[0].JudgedRight, "by what was written down: a misreading costs once")
	assert.Equal(t, "within", a.Readings[0].TrueBand)
	assert.NotEqual(t, a.Standings.Shown, a.Standings.Recorded)
}

// Not worth repairing is an end that the figures bear out, or do not.
func TestNotWorthRepairing(t *testing.T) {
	worn := machine.FaultSpec{ID: "rings-worn", Severity: 0.9}
	sc := job("no-start", worn)
	w := ValueOf(sc)
	assert.True(t, w.Repair, "a lift pump is worth new rings")
	// Cheapest is new rings: 28 in parts, 120 min and plug and shroud off and on (14 min), at 38 an hour.
	assert.InDelta(t, 28, w.Parts, 1e-9)
	assert.InDelta(t, 134, w.Minutes, 1e-9)
	assert.InDelta(t, 28+134*38/60.0, w.Cost, 0.01)
	given := HandOver{Findings: []Finding{{Reach: "piston-rings-bore", Filing: Root}}, Verdict: NotWorth, ProofSeq: -1}
	a := begin(t, sc).work("compression-dry").handOver(given)
	assert.Contains(t, reasons(section(a, "proof")), "proof.given-up-and-worth-it")
	old := job("no-start", worn)
	old.Sheet = maps.Clone(old.Sheet)
	old.Sheet["worth_money"] = catalogue.Figure{Low: 90, High: 90, Unit: "money", Source: "test"}
	assert.False(t, ValueOf(old).Repair)
	b := begin(t, old).work("compression-dry").handOver(given)
	assert.Contains(t, reasons(section(b, "proof")), "proof.rightly-given-up")
	assert.Greater(t, section(b, "proof").Mark, section(a, "proof").Mark)
	c := begin(t, old).work("start-attempt").handOver(given)
	assert.Contains(t, reasons(section(c, "proof")), "proof.given-up-unread", "a run alone condemns nothing")
	assert.False(t, c.Proof.Right)
}

// Makeshift work, what it leaves behind, and precautions that nobody took are
// all told at the debrief; nothing of it is told before.
func TestMakeshiftsAndPrecautionsAreRecorded(t *testing.T) {
	r := begin(t, job("only-on-choke", jet)).do(ledger.Event{Kind: "do", Do: "driven-ready"}).work("start-attempt").do(
		ledger.Event{Kind: "repair", Repair: "drill-jet", Reach: "jets"}, ledger.Event{Kind: "control", Control: setup.Settings{"line_clamp": "on", "lights": "off"}})
	a := r.handOver(HandOver{Findings: []Finding{{Reach: "jets", Filing: Root}}, Verdict: Repaired, ProofSeq: -1})
	require.Len(t, a.Makeshifts, 1)
	assert.Equal(t, []string{"jet-oversize"}, a.Makeshifts[0].Left)
	assert.Equal(t, "drill-jet", a.Makeshifts[0].Act)
	assert.Contains(t, a.HandedBack, bench.Left{Kind: bench.LeftControl, Item: "line_clamp"})
	assert.Contains(t, a.HandedBack, bench.Left{Kind: bench.LeftWork, Item: "jet-oversize"})
	var skipped []string
	for _, s := range a.Skipped {
		skipped = append(skipped, s.Precaution)
	}
	assert.Equal(t, []string{"ventilate"}, skipped, "the driven machine was made ready, the air was not")
}

// The parts of a reading are marked apart: a part left out costs nothing, one that is
// misread or misjudged only itself.
func TestPartsAreMarkedApart(t *testing.T) {
	wide := machine.FaultSpec{ID: "valve-clearance-wide", Severity: 1, Mode: "ex"}
	mark := func(parts map[string]ledger.EventPart) (float64, string, []Reading) {
		r := begin(t, job("weak", wide)).do(ledger.Event{Kind: "take", Test: "valve-clearance"},
			ledger.Event{Kind: "act", Act: "set", Value: map[string]any{"id": "at_tdc", "value": true}},
			ledger.Event{Kind: "act", Act: "blade", Value: 0.15}, ledger.Event{Kind: "act", Act: "part", Value: "ex"},
			ledger.Event{Kind: "act", Act: "blade", Value: 0.45},
			ledger.Event{Kind: "entry", Reading: "0.15", Unit: "mm", Judged: "within", Parts: parts})
		a := r.handOver(HandOver{Findings: []Finding{{Reach: "valves", Filing: Root}}, Verdict: ReferOn, ProofSeq: -1})
		s := section(a, "readings")
		return s.Mark / s.Of, reasons(s), a.Readings
	}
	alone, _, one := mark(nil)
	require.Len(t, one, 1)
	right, _, both := mark(map[string]ledger.EventPart{"ex": {Reading: "0.45", Unit: "mm", Judged: "above"}})
	require.Len(t, both, 2)
	assert.Equal(t, "ex", both[1].Part)
	assert.True(t, both[1].ReadRight && both[1].JudgedRight)
	assert.InDelta(t, 1, alone, 1e-9)
	assert.InDelta(t, 1, right, 1e-9)
	wrong, text, _ := mark(map[string]ledger.EventPart{"ex": {Reading: "0.45", Unit: "mm", Judged: "within"}})
	assert.InDelta(t, 1-0.5*judgeShare, wrong, 1e-9)
	assert.Contains(t, text, "of:[valve-clearance ex]")
}
