package record

import (
	"fmt"
	"math"

	"github.com/google/uuid"
)

// Statement is one of xAPI 1.0.3 (IEEE 9274.1.1): who did what with which result. Members
// and rules are those of the published specification, part two.
type Statement struct {
	ID        string   `json:"id"`
	Actor     Actor    `json:"actor"`
	Verb      Verb     `json:"verb"`
	Object    Object   `json:"object"`
	Result    *Result  `json:"result,omitempty"`
	Context   *Context `json:"context,omitempty"`
	Timestamp string   `json:"timestamp"`
}

// Actor is a person by an account of a home page.
type Actor struct {
	ObjectType string  `json:"objectType"`
	Name       string  `json:"name,omitempty"`
	Account    Account `json:"account"`
}

// Account is an id that means something at a home page.
type Account struct {
	HomePage string `json:"homePage"`
	Name     string `json:"name"`
}

// Verb is what was done, with words by language.
type Verb struct {
	ID      string            `json:"id"`
	Display map[string]string `json:"display"`
}

// Object is an activity, or the statement that one takes back.
type Object struct {
	ObjectType string      `json:"objectType"`
	ID         string      `json:"id"`
	Definition *Definition `json:"definition,omitempty"`
}

// Definition says what an activity is.
type Definition struct {
	Type string            `json:"type"`
	Name map[string]string `json:"name"`
}

// Result is how it went. Duration is of the bench's clock, ISO 8601.
type Result struct {
	Score      Score  `json:"score"`
	Success    bool   `json:"success"`
	Completion bool   `json:"completion"`
	Duration   string `json:"duration"`
}

// Score is scaled from -1 to 1 as well.
type Score struct {
	Scaled float64 `json:"scaled"`
	Raw    float64 `json:"raw"`
	Min    float64 `json:"min"`
	Max    float64 `json:"max"`
}

// Context says what it belongs to. Registration is the attempt.
type Context struct {
	Registration string             `json:"registration"`
	Platform     string             `json:"platform"`
	Language     string             `json:"language"`
	Extensions   map[string]float64 `json:"extensions"`
}

// Whose are the statements: a person's, at the address where this is served.
type Whose struct {
	Home, Person, Name string
	// Words of the verbs, in their language.
	Language, Passed, Failed, Voided, Job string
}

// Verbs and the kind of activity are those that ADL publishes for xAPI.
const (
	verbPassed = "http://adlnet.gov/expapi/verbs/passed"
	verbFailed = "http://adlnet.gov/expapi/verbs/failed"
	verbVoided = "http://adlnet.gov/expapi/verbs/voided"
	assessment = "http://adlnet.gov/expapi/activities/assessment"
)

// Statement says how an attempt stands. The same standing gives the same statement, id and
// all, so that sending it again changes nothing.
func (w Whose) Statement(a Attempt) Statement {
	id, _ := uuid.Parse(a.ID)
	v := Verb{verbFailed, map[string]string{w.Language: w.Failed}}
	if a.Passed() {
		v = Verb{verbPassed, map[string]string{w.Language: w.Passed}}
	}
	seconds := int(math.Round(a.Minutes * 60))
	r := &Result{Score: Score{Raw: a.Mark, Min: 0, Max: a.Of}, Success: a.Passed(), Completion: true,
		Duration: fmt.Sprintf("PT%dM%dS", seconds/60, seconds%60)}
	if a.Of > 0 {
		r.Score.Scaled = math.Round(1e4*a.Mark/a.Of) / 1e4
	}
	c := &Context{Registration: a.ID, Platform: "Zanjero", Language: w.Language, Extensions: map[string]float64{}}
	for _, s := range a.Skills {
		c.Extensions[w.Home+"/xapi/skills/"+s.Skill+"/"+s.Lateral] = s.Score
	}
	return Statement{ID: uuid.NewSHA1(id, []byte(fmt.Sprint(a.Outcome, a.Mark, a.Of, a.Signed))).String(), Actor: w.actor(), Verb: v,
		Object: Object{"Activity", fmt.Sprintf("%s/xapi/jobs/%d", w.Home, a.Job),
			&Definition{assessment, map[string]string{w.Language: fmt.Sprintf("%s %d, %s", w.Job, a.Job, a.Machine)}}},
		Result: r, Context: c, Timestamp: a.At}
}

// Void takes a statement back that no longer holds; at is when, RFC 3339.
func (w Whose) Void(statement, at string) Statement {
	id, _ := uuid.Parse(statement)
	return Statement{ID: uuid.NewSHA1(id, []byte("voided")).String(), Actor: w.actor(), Verb: Verb{verbVoided, map[string]string{w.Language: w.Voided}},
		Object: Object{ObjectType: "StatementRef", ID: statement}, Timestamp: at}
}

func (w Whose) actor() Actor {
	return Actor{"Agent", w.Name, Account{w.Home, w.Person}}
}
