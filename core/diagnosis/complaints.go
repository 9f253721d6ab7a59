package diagnosis

import (
	"slices"

	"zanjero/core/setup"
)

// Complaint is a symptom under a condition, as owners state it.
type Complaint struct {
	ID    string
	Claim Claim
}

// Complaints are the symptoms that can be claimed; not to be changed.
var Complaints = []Complaint{
	{"no-start", Claim{Test: "start-attempt", Words: []string{"no-fire", "fires-and-dies"}}},
	{"dies-at-once", Claim{Test: "start-attempt", Words: []string{"fires-and-dies"}}},
	{"only-on-choke", Claim{Test: "start-attempt", Words: []string{"runs-only-on-choke"}}},
	{"weak", Claim{Test: "start-attempt", Words: []string{"bogs", "low-power", "runs-only-on-choke"}}},
	{"no-idle", Claim{Test: "start-attempt", Words: []string{"stalls-at-idle", "hunts"}}},
	{"kicks-back", Claim{Test: "start-attempt", Words: []string{"kicks-back", "runs-backwards", "spits-back"}}},
	{"stuck", Claim{Test: "start-attempt", Words: []string{"locked"}}},
	{"smokes-black", Claim{Test: "start-attempt", Words: []string{"very-rich", "rich-smoky"}}},
	{"races", Claim{Test: "start-attempt", Words: []string{"races"}}},
	{"shakes", Claim{Test: "start-attempt", Words: []string{"vibrates"}}},
	{"dies-later", Claim{Test: "run-long", Setup: setup.Settings{"minutes": 30.0, "load": "test"},
		Words: []string{"died-away", "fades", "stopped-dead"}}},
}

// ComplaintBy gives a complaint by id, or nil.
func ComplaintBy(id string) *Complaint {
	i := slices.IndexFunc(Complaints, func(c Complaint) bool { return c.ID == id })
	if i < 0 {
		return nil
	}
	return &Complaints[i]
}
