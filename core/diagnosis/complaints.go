package diagnosis

import (
	"slices"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/setup"
)

// Complaint is a symptom under a condition, as owners state it.
type Complaint struct {
	ID    string `json:"id"`
	Claim Claim  `json:"claim"`
}

// Words of runs, by how far it came.
var (
	starts = []string{"runs-only-on-choke", "very-rich", "bogs", "stopped-dead", "died-away", "fades", "races", "vibrates", "hunts", "stalls-at-idle",
		"rich-smoky", "low-power", "runs-well"}
	silent    = []string{"no-fire", "fires-and-dies"}
	stopsAway = []string{"died-away", "fades", "stopped-dead"}
)

// underLoad is work for some minutes; an owner who works it has it at full speed.
func underLoad(minutes float64) setup.Settings {
	return setup.Settings{"minutes": minutes, "load": "test"}
}

// start is a claim of how a start goes.
func start(words ...string) Claim { return Claim{Test: "start-attempt", Words: words} }

// worked is a claim of what becomes of half an hour's work, from when to when.
func worked(from, to float64, words ...string) Claim {
	return Claim{Test: "run-long", Setup: underLoad(30), Words: words, Falters: &Span{from, to}}
}

// stopped is a claim of what happens as it is stopped after some minutes of work.
func stopped(as string) Claim {
	return Claim{Test: "run-long", Setup: underLoad(5), Words: starts, Stop: []string{as}}
}

// and is a claim that asks for others besides.
func (c Claim) and(others ...Claim) Claim { c.And = others; return c }

// Complaints are the symptoms that can be claimed, each under its condition; not to be
// changed.
var Complaints = []Complaint{
	{"no-start", start(silent...)},
	{"dies-at-once", start("fires-and-dies")},
	{"only-on-choke", start("runs-only-on-choke")},
	{"weak", start("bogs", "low-power", "runs-only-on-choke")},
	{"no-idle", start("stalls-at-idle", "hunts")},
	{"kicks-back", start("kicks-back", "runs-backwards", "spits-back")},
	{"stuck", start("locked")},
	{"smokes-black", start("very-rich", "rich-smoky")},
	{"races", start("races")},
	{"shakes", start("vibrates")},
	{"dies-later", Claim{Test: "run-long", Setup: underLoad(30), Words: stopsAway}},
	// how it starts
	{"hard-to-start", Claim{Test: "start-attempt", Words: starts, Pulls: 5}},
	{"only-on-spray", start("no-fire").and(Claim{Test: "dose-intake", Words: []string{"fires-and-dies", "runs"}})},
	{"floods", start("no-fire").and(Claim{Test: "start-attempt", Words: []string{"no-fire"},
		Then: &Claim{Test: "plug-look", Words: []string{"wet"}}})},
	{"runs-backwards", start("runs-backwards")},
	{"spits-back", start("spits-back")},
	{"hard-to-pull", Claim{Test: "pull-feel", Words: []string{"drags"}}},
	{"rope-pulls-nothing", Claim{Test: "pull-feel", Words: []string{"rope-gone", "stays-out"}}},
	// how it runs
	{"hunts", start("hunts")},
	{"bogs", start("bogs")},
	{"too-slow", Claim{Test: "run-full", Beyond: "below"}.and(start(starts...))},
	{"smokes-blue", Claim{Test: "start-attempt", Words: starts, Smoke: []string{"blue"}}},
	{"knocks", Claim{Test: "run-listen", Words: []string{"knocks", "rattles"}}},
	{"tool-turns", Claim{Test: "tool-at-idle", Words: []string{"creeps"}}},
	{"drips", Claim{Test: "look-over", Words: []string{"weeps"}}},
	// after a time
	{"dies-in-minutes", worked(1.5, 8, stopsAway...)},
	{"dies-in-quarter", worked(8, 25, stopsAway...)},
	{"cuts-out", worked(1.5, 30, "stopped-dead")},
	{"comes-back", Claim{Test: "run-long", Setup: underLoad(30), Words: stopsAway, Falters: &Span{1.5, 30}, Rest: 20,
		Then: &Claim{Test: "start-attempt", Words: starts}}},
	{"no-restart-hot", Claim{Test: "hot-restart", Words: silent}.and(start(starts...))},
	// as it is stopped
	{"bangs-at-stop", stopped("bangs")},
	{"runs-on", stopped("runs-on")},
	{"blade-runs-on", Claim{Test: "bar-stop", Beyond: "above"}},
}

// ComplaintBy gives a complaint by id, or nil.
func ComplaintBy(id string) *Complaint {
	i := slices.IndexFunc(Complaints, func(c Complaint) bool { return c.ID == id })
	if i < 0 {
		return nil
	}
	return &Complaints[i]
}

// ComplaintsOf lists those that can be made of an engine: what it is claimed under is a
// test that it has.
func ComplaintsOf(family string, sheet catalogue.Sheet) (out []Complaint) {
	for _, c := range Complaints {
		if catalogue.Standard().TestFor(family, sheet, c.Claim.Test) != nil {
			out = append(out, c)
		}
	}
	return out
}

// Minutes is how long what is claimed takes to meet, on a machine as a master would try
// it: the tests' own minutes, how long it runs, and what it stands between.
func (c *Claim) Minutes(s *bench.Session) float64 {
	try := s.Clone()
	began := try.Minutes()
	try.Test(c.Test, c.Setup)
	out := try.Minutes() - began
	if c.Then != nil {
		out += c.Rest + c.Then.Minutes(try)
	}
	return out
}
