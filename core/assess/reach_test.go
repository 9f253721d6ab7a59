package assess

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/ledger"
)

// told judges an attempt on a float-bowl engine, given as events and a hand-over in the
// open form.
func told(t *testing.T, scenario, events, hand string) *Assessment {
	raw := fmt.Sprintf(`{"scenario":{"machine":"f4-bowl","words":"x","limit_minutes":120,"limit_money":120,%s},"seed":3,"noise":false,`+
		`"events":[{"act":"ventilate"},{"act":"away-from-flame"},{"act":"driven-ready"},{"act":"eye-protection"},{"act":"insulated-grip"},`+
		`{"act":"catch-can"}%s],"hand_over":{%s}}`, scenario, comma(events), hand)
	in, err := ReadAttempt(strings.NewReader(raw))
	require.NoError(t, err, raw)
	in.Answers = answersOf(t, in.Scenario)
	a, err := Assess(t.Context(), *in)
	require.NoError(t, err, raw)
	return a
}

func comma(events string) string {
	if events == "" {
		return ""
	}
	return "," + events
}

const (
	aJet   = `"faults":[{"id":"main-jet-blocked","severity":0.6}],"complaint":"only-on-choke"`
	aCoil  = `"faults":[{"id":"coil-secondary-open"}],"complaint":"no-start"`
	aChoke = `"faults":[{"id":"choke-stuck-shut"}],"complaint":"smokes-black"`
	starts = `{"test":"start-attempt"}`
	seen   = `{"test":"jet-look","recorded":"part"}`
	mended = `{"repair":"clean","reach":"jets"},{"cover":"bowlopen","off":false},{"wait_min":2}`
	noSpk  = `{"test":"spark-gap","recorded":"0 mm","judged":"below"}`
	onward = `"verdict":"refer-on"`
)

func root(reach, fault string, more ...string) string {
	f := fmt.Sprintf(`{"filing":"root","reach":"%s"`, reach)
	if fault != "" {
		f += fmt.Sprintf(`,"fault":"%s"`, fault)
	}
	return `"findings":[` + strings.Join(append([]string{f + "}"}, more...), ",") + "]"
}

func join(parts ...string) string { return strings.Join(parts, ",") }

// Every class of conclusion is reached through the ledger.
func TestEveryClassIsReached(t *testing.T) {
	if testing.Short() {
		t.Skip("it weighs many attempts")
	}
	for class, c := range map[string][3]string{
		Proven: {aJet, join(starts, `{"test":"bowl-look","recorded":"varnish"}`, seen), join(root("jets", "main-jet-blocked"), onward)},
		Supported: {aCoil, join(starts, `{"test":"pull-feel","recorded":"strong"}`, noSpk, `{"test":"spark-kill-off","recorded":"0 mm","judged":"below"}`),
			join(root("coil", ""), onward)},
		Guessed:  {aJet, starts, join(root("jets", "main-jet-blocked"), onward)},
		Isolated: {aJet, join(starts, seen, mended, starts), join(root("jets", ""), `"verdict":"repaired","proof_event":11`)},
		Symptom:  {aChoke, join(starts, `{"test":"plug-look","recorded":"sooty"}`), join(root("plug", "plug-fouled"), onward)},
		Misled: {aJet, join(starts, noSpk, `{"test":"spark-kill-off","recorded":"0 mm","judged":"below"},{"test":"coil-secondary","recorded":"OL","judged":"above"}`),
			join(root("coil", "coil-secondary-open"), onward)},
		StoppedEarly: {aCoil, starts, join(root("jets", "main-jet-blocked"), onward)},
		Contradicted: {aCoil, join(starts, noSpk, `{"test":"compression-dry","recorded":"62 psi","judged":"within"}`),
			join(root("piston-rings-bore", "rings-worn"), onward)},
		Nothing: {aJet, starts, onward},
	} {
		a := told(t, c[0], c[1], c[2])
		assert.Equal(t, class, a.Class, "p %v, %v", a.P, a.Verdict)
	}
}

// Every slip that has a name, as it is typed.
func TestEverySlipIsNamed(t *testing.T) {
	if testing.Short() {
		t.Skip("it weighs many attempts")
	}
	at := func(test, recorded, judged, scenario string) string {
		e := fmt.Sprintf(`{"test":"%s","recorded":"%s","judged":"%s"}`, test, recorded, judged)
		a := told(t, scenario, e, onward)
		require.Len(t, a.Readings, 1)
		return a.Readings[0].Slip
	}
	for _, c := range [][4]string{ // 62.2 psi is shown
		{"compression-dry", "62 kPa", "below", SlipUnit}, {"compression-dry", "430 psi", "above", SlipScale}, {"compression-dry", "6.2 psi", "below", SlipDecimal},
		{"compression-dry", "26 psi", "below", SlipDigits}, {"compression-dry", "124 psi", "above", SlipFactorTwo}, {"compression-dry", "62 psi", "within", ""},
		{"coil-secondary", "6.8 kΩ", "within", SlipOverLimit},
	} {
		assert.Equal(t, c[3], at(c[0], c[1], c[2], aCoil), c[1])
	}
	own := aCoil + `,"sheet":{"compression_psi":{"low":80,"high":100,"unit":"psi"}}`
	assert.Equal(t, SlipSheet, at("compression-dry", "62 psi", "within", own), "as the usual sheet has it")
}

// Every reason why a proof is none, and every cap of the outcome.
func TestEveryProofAndCapIsReached(t *testing.T) {
	if testing.Short() {
		t.Skip("it weighs many attempts")
	}
	hand := func(more string) string {
		return join(root("jets", "main-jet-blocked"), `"cause":"stored-with-fuel","advice":"drain-before-storage"`, more)
	}
	good := join(starts, seen, mended, starts)
	for why, c := range map[string][2]string{
		"":          {good, `"verdict":"repaired","proof_event":11`},
		ProofNone:   {join(starts, seen, mended), `"verdict":"repaired"`},
		ProofBefore: {good, `"verdict":"repaired","proof_event":6`},
		ProofOther:  {join(good, `{"test":"run-idle","recorded":"1440 rpm","judged":"within"}`), `"verdict":"repaired","proof_event":12`},
		ProofBad: {join(starts, seen, `{"repair":"replace","reach":"plug"},{"cover":"bowlopen","off":false}`, starts),
			`"verdict":"repaired","proof_event":10`},
		ProofNotOffered: {good, `"verdict":"repaired"`},
	} {
		a := told(t, aJet, c[0], hand(c[1]))
		assert.Equal(t, Proved{why == "", why}, a.Proof, why)
		assert.Equal(t, why == "", a.Outcome == Competent, "%s: %v", why, reasonCodes(a.Against))
	}
	vent := `"faults":[{"id":"cap-vent-blocked","severity":0.97}],"complaint":"dies-later"`
	short := told(t, vent, join(starts, `{"test":"vent-blow","recorded":"blocked"},{"repair":"replace","reach":"cap-vent"}`,
		`{"test":"run-long","minutes":2}`), join(root("cap-vent", "cap-vent-blocked"), `"verdict":"repaired","proof_event":9`))
	assert.Equal(t, ProofShort, short.Proof.Why)

	for code, c := range map[string][2]string{
		"outcome.not-ready": {join(good, `{"control":{"kill_lead":"off"}}`), `"verdict":"repaired","proof_event":11`},
		"outcome.proof":     {good, `"verdict":"repaired"`},
	} {
		a := told(t, aJet, c[0], hand(c[1]))
		assert.Contains(t, reasonCodes(a.Against), code)
		assert.Equal(t, NotYet, a.Outcome)
	}
	unsafe := told(t, aJet, join(good, `{"test":"turn-by-hand","recorded":"free"},{"cover":"plugout","off":false}`), hand(`"verdict":"repaired","proof_event":11`))
	assert.Equal(t, []string{"outcome.critical"}, reasonCodes(unsafe.Against), "the lead was on as hands went near: %v", unsafe.Skipped)
	high := told(t, aJet+`,"rubric":{"readings":20,"conclusion":35,"economy":10,"order":10,"safety":15,"proof":10,"threshold":99.9}`, good,
		hand(`"verdict":"repaired","proof_event":11`))
	assert.Equal(t, []string{"outcome.threshold"}, reasonCodes(high.Against))
	weighed := told(t, aJet+`,"rubric":{"readings":0,"conclusion":100,"economy":0,"order":0,"safety":0,"proof":0,"threshold":60}`, good,
		hand(`"verdict":"repaired","proof_event":11`))
	_, of := weighed.Total()
	assert.Equal(t, 100.0, of, "the weights are the scenario's")
	assert.Zero(t, section(weighed, "proof").Of)
}

// Where a page is given each test is as the page has it, off it with good reason, or off it.
func TestEveryDepartureIsReached(t *testing.T) {
	if testing.Short() {
		t.Skip("it weighs many attempts")
	}
	page := aCoil + `,"procedure":"look-first-no-start","mode":"guided"`
	off := `{"test":"head-look","recorded":"sound"}`
	of := func(events string) map[string]string {
		out := map[string]string{}
		for _, o := range told(t, page, events, join(root("coil", ""), onward)).Order {
			out[o.Test] = o.Departure
		}
		return out
	}
	plain := of(join(`{"test":"look-switches","recorded":"run"}`, off))
	assert.Equal(t, map[string]string{"look-switches": Followed, "head-look": Unjustified}, plain)
	assert.Equal(t, Justified, of(join(`{"page":"`+ledger.LeaveSafety+`"}`, off))["head-look"])
}

// A whole governor mends a runaway whatever it is. Fitted unseen, where a look of a minute
// may well show that less work is enough, it was fitted too soon, and the job is not passed;
// the same work after that look was not.
func TestLooksBeforeSureWork(t *testing.T) {
	if testing.Short() {
		t.Skip("it weighs many attempts")
	}
	runaway := `"faults":[{"id":"governor-overspeed","severity":0.9}],"complaint":"races"`
	fitted := `{"repair":"replace","reach":"throttle-governor"}`
	hand := func(proof int) string {
		return join(root("throttle-governor", "governor-overspeed"), fmt.Sprintf(`"verdict":"repaired","proof_event":%d`, proof))
	}
	codes := func(a *Assessment) (out []string) {
		for _, s := range a.Sections {
			for _, r := range s.Reasons {
				out = append(out, r.Code)
			}
		}
		return out
	}
	unseen := told(t, runaway, join(starts, fitted, starts), hand(8))
	assert.Equal(t, []int{7}, unseen.Economy.Unfounded)
	assert.Subset(t, codes(unseen), []string{"economy.less-enough", "order.work-first"})
	assert.NotContains(t, codes(unseen), "conclusion.fitted-first", "it was no guess")
	assert.Equal(t, NotYet, unseen.Outcome)
	looked := told(t, runaway, join(starts, `{"test":"look-governor","recorded":"shortened"}`, fitted, starts), hand(9))
	assert.Empty(t, looked.Economy.Unfounded)
	assert.Equal(t, Competent, looked.Outcome)
}
