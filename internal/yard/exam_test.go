package yard

import (
	"cmp"
	"encoding/json"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/apprentice"
	"zanjero/core/assess"
	"zanjero/core/authoring"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/machine"
	"zanjero/core/reading"
	"zanjero/core/scenario"
	"zanjero/core/shop"
	"zanjero/demo"
)

// bugged are the engines of the demo's exam, and what was done to each.
var bugged = []struct {
	code, serial, note, done, undo, complaint, words string
	fault                                            machine.FaultSpec
}{
	{"GH-1", "GH-1180-03", "Bench 1", "The gap of the plug closed to a hair.", "Gap set by the sheet, new washer.", "no-start",
		"Put a new plug in, and now it will not even cough.", machine.FaultSpec{ID: "plug-gap-wrong", Severity: 1, Mode: "closed", Cause: "handling"}},
	{"BM-3", "BM-3301-17", "Bench 2, over the tray", "A worn needle fitted that does not seal.", "Own needle back, bowl washed out.", "drips",
		"There is a puddle under it every morning.", machine.FaultSpec{ID: "needle-leaks", Severity: 0.8, Cause: "debris"}},
	{"PA-4", "PA-0442-08", "Bench 3", "A cracked fuel line fitted at the tank.", "Own line back.", "dies-in-minutes",
		"Starts well, and after some minutes it dies away.", machine.FaultSpec{ID: "line-cracked", Severity: 0.55, Cause: "age-wear"}},
	{"MS-6", "MS-0615-02", "Bench 4", "A screen full of soot fitted in the muffler.", "Own screen back.", "bogs",
		"Idles, but as soon as I open it up it drowns.", machine.FaultSpec{ID: "arrestor-clogged", Severity: 0.85, Cause: "premix-oil-rich"}},
}

// turns are who worked as whom in the first round.
var turns = []string{"master", "careful-beginner", "careful-beginner", "misreader", "master", "careful-beginner", "unsafe-and-quick", "careful-beginner"}

// The exam of the demo yard is what the model makes of its engines and of those who work
// on them. ZANJERO_WRITE=1 writes it anew.
func TestTheDemoExam(t *testing.T) {
	if testing.Short() {
		t.Skip("it works an attempt")
	}
	f, err := Parse(demo.Yard)
	require.NoError(t, err)
	raw, err := json.MarshalIndent(examOf(t, f), "", " ")
	require.NoError(t, err)
	raw = append(raw, '\n')
	if os.Getenv("ZANJERO_WRITE") != "" {
		require.NoError(t, os.WriteFile("../../demo/exam.json", raw, 0o644))
		return
	}
	assert.Equal(t, string(raw), string(demo.Exam), "the model has moved: write it anew")
}

// sheets are those of the machines of a yard, by code.
func sheets(f *File) map[string]scenario.Scenario {
	out := map[string]scenario.Scenario{}
	for _, m := range f.Machines {
		out[m.Code] = scenario.Scenario{Name: m.Name, Code: m.Code, Family: m.Family, Sheet: catalogue.Standard().Complete(m.Family, m.Sheet),
			Ambient: machine.Ambient{TemperatureC: 20}}
	}
	return out
}

// usual are tests that every engine is read with, and others is how many are read besides
// that tell its fault.
var usual = []string{"compression-dry", "spark-gap"}

const others = 3

// reads are the readings of an engine without and with its fault.
func reads(t *testing.T, healthy, sc *scenario.Scenario) (sound, sick []ledger.HandReading) {
	var tests []string
	for _, x := range sc.Tests() {
		if x.Kind != catalogue.KindRun && x.ID != reading.AskHistory && !slices.Contains(usual, x.ID) && len(x.Parts) == 0 {
			tests = append(tests, x.ID)
		}
	}
	read := func(sc *scenario.Scenario, tests []string) []ledger.HandReading {
		out, err := apprentice.Read(sc, tests)
		require.NoError(t, err)
		return out
	}
	// What is looked at and measured comes before what has to run.
	slices.SortStableFunc(tests, func(a, b string) int {
		return cmp.Compare(strings.Count(a, "run-"), strings.Count(b, "run-"))
	})
	was, is := read(healthy, tests), read(sc, tests)
	for i := range tests {
		if len(shop.Differ(sc.Family, sc.Sheet, was[i:i+1], is[i:i+1])) > 0 && len(sick) < others {
			sound, sick = append(sound, was[i]), append(sick, is[i])
		}
	}
	require.NotEmpty(t, sick, "no test tells it")
	return append(sound, read(healthy, usual)...), append(sick, read(sc, usual)...)
}

func examOf(t *testing.T, f *File) *Exam {
	e := &Exam{Format: ExamFormat, Note: "Invented, as all of the demo yard. Made from the model.", Title: "Autumn exam at the benches",
		BegunMinutes: 75, Minutes: 60,
		Rest: 10, LimitMoney: 120, Instruments: []ExamGauge{
			{"CG-2", "Compression gauge", "2026-03-02", "2027-03-02", map[string]float64{"compression-dry": 0, "compression-wet": 0}},
			{"CG-3", "Compression gauge, old", "2024-04-10", "2025-04-10", map[string]float64{"compression-dry": 4, "compression-wet": 4}},
			{"ST-1", "Spark tester", "2026-06-15", "2027-06-15", map[string]float64{"spark-gap": 0}}}}
	for _, p := range f.People[len(f.People)-8:] {
		e.People = append(e.People, p.Name)
	}
	plan, p := shop.Rotate(len(e.People), len(bugged))
	require.Nil(t, p)
	for k, b := range bugged {
		sc := sheets(f)[b.code]
		healthy := sc
		sc.Faults, sc.Words, sc.Claim = []machine.FaultSpec{b.fault}, b.words, b.complaint
		sc.LimitMinutes, sc.LimitMoney, sc.Mode = float64(e.Minutes), e.LimitMoney, scenario.ModeExam
		require.Empty(t, sc.Check(), b.code)
		sound, sick := reads(t, &healthy, &sc)
		row := ExamEngine{MachineCode: b.code, Serial: b.serial, Note: b.note, Bugged: sick,
			Bug: shop.Bug{Fault: b.fault, Done: b.done, Undo: b.undo, Complaint: b.complaint, Words: b.words, Sound: sound}}
		if k > 0 { // one turn is over: what a new yard has marked holds nobody up
			e.Engines = append(e.Engines, row)
			continue
		}
		answers, err := authoring.Answers(t.Context(), &sc)
		require.NoError(t, err)
		person := plan[0][k]
		at := slices.IndexFunc(apprentice.Kinds, func(x apprentice.Kind) bool { return x.ID == turns[person] })
		seed := uint64(100*person + 7)
		in, err := apprentice.Work(t.Context(), &sc, answers, apprentice.Kinds[at], seed, seed)
		require.NoError(t, err)
		hand, err := apprentice.ByHand(&sc, seed, in.Events)
		require.NoError(t, err)
		turn := ExamTurn{Person: e.People[person], Events: hand, Hand: in.Hand,
			Skills: []string{shop.Skills[person%len(shop.Skills)], shop.Skills[(person+2)%len(shop.Skills)]}}
		row.Turns = append(row.Turns, turn)
		iron := sc
		iron.Iron = &ledger.Iron{Bugged: sick, Sound: sound}
		a, err := assess.Assess(t.Context(), assess.Input{Scenario: &iron, Events: hand, Hand: in.Hand})
		require.NoError(t, err, "%s by %s", b.code, turns[person])
		mark, of := a.Total()
		t.Logf("%s %s %s %.0f of %.0f %s %v", b.code, turn.Person, turns[person], mark, of, a.Outcome, a.Against)
		e.Engines = append(e.Engines, row)
	}
	return e
}
