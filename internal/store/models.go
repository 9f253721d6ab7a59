package store

import (
	"encoding/json"
	"time"

	"github.com/google/uuid"
)

// Roles. What each may do stands in the policy of the HTTP interface.
const (
	Apprentice  = "apprentice"
	Instructor  = "instructor"
	Assessor    = "assessor"
	Coordinator = "coordinator"
)

// Roles in the order in which they are offered.
var Roles = []string{Apprentice, Instructor, Assessor, Coordinator}

// States of an attempt.
const (
	StateNew        = "new"
	StateInHand     = "in-hand"
	StateMarking    = "marking"     // handed over, and not yet marked
	StateHandedOver = "handed-over" // marked
	StateFrozen     = "frozen"      // it cannot be replayed, so nothing more is done with it
	StateClosed     = "closed"      // put away so that the job could be given anew
)

// Person is somebody who can sign in.
type Person struct {
	ID           uuid.UUID
	Name         string
	DisplayName  string
	Role         string
	PasswordHash string
	// Demo people may sign in on loopback only.
	Demo bool
	// Disabled people cannot sign in, and no session of theirs counts.
	Disabled bool
	// SessionEpoch is moved on to end every session that began before.
	SessionEpoch int `gorm:"default:1"`
	// SourcedID is the school's id, nil for who was added here and never in a roster.
	SourcedID *string
	// Language that they have chosen to read in, empty for none yet.
	Language string
	// MustChange: the password was printed on a sheet, and is to be changed before anything
	// else is done.
	MustChange bool
	// LeftAt is since when somebody is no longer here, nil for who is. Who has left cannot
	// sign in.
	LeftAt *time.Time
	// ErasedAt is since when nothing is kept of somebody but attempts without a name.
	ErasedAt *time.Time
}

// Here says that somebody may sign in.
func (p *Person) Here() bool { return !p.Disabled && p.LeftAt == nil }

// Machine is one engine of the yard with its service sheet.
type Machine struct {
	ID     uuid.UUID
	Name   string
	Code   string
	Family string
	Duty   string
	Sheet  json.RawMessage `gorm:"type:jsonb"`
	// Revision counts the changes, from 1.
	Revision int `gorm:"default:1"`
}

// Job is a scenario as an instructor set it.
type Job struct {
	ID uuid.UUID
	// Number is given by AddJob, without gaps.
	Number    int64
	MachineID uuid.UUID
	Machine   Machine
	SetBy     uuid.UUID
	Scenario  json.RawMessage `gorm:"type:jsonb"`
	// First is a lesson that SetBy takes by themselves.
	First bool
	// Practice: who has it took it to practise.
	Practice bool
	// ResitOf is the attempt that it is given again for, nil for none.
	ResitOf *uuid.UUID
	// ClassID is the class that it was given to in one act, nil for none, and Giving that
	// act: variants of one another have the same. Nil is the job's own id.
	ClassID, Giving *uuid.UUID
	// PaperID is the scenario of the library that it was given out from, nil for none.
	PaperID *uuid.UUID
	// OpensAt is from when who has it sees it, ClosesAt from when nothing more is done on it,
	// DebriefAt from when its debriefs are read; nil for at once, never and at once.
	OpensAt, ClosesAt, DebriefAt *time.Time
	CreatedAt                    time.Time
}

// Attempt is a job in an apprentice's hands.
type Attempt struct {
	ID           uuid.UUID
	JobID        uuid.UUID
	Job          Job
	ApprenticeID uuid.UUID
	Apprentice   Person
	Seed         int64
	ModelVersion string
	State        string
	Minutes      float64
	Events       int // how many it has
	// Glance is what the floor shows of it, as its last act left it; PausedAt since when
	// nothing is done on it, nil for not.
	Glance   json.RawMessage `gorm:"type:jsonb"`
	PausedAt *time.Time
	Draft    json.RawMessage `gorm:"type:jsonb"`
	// Assessment is not read by lists; Class, Mark and MarkOf stand beside it.
	Assessment json.RawMessage `gorm:"type:jsonb"`
	Class      *string
	Mark       *float64
	MarkOf     *float64
	// Outcome as it stands, Doubt how much a person's look is wanted, 0 to 1.
	Outcome *string
	Doubt   *float64
	// Untested: it ended without a test that could tell anything, and no person says that it
	// counts all the same.
	Untested bool
	// Signed off, Appealed and not answered, Awaits a second marker.
	Signed   bool
	Appealed bool
	Awaits   *uuid.UUID
	// Told is how it stood when a record store was last told of it, ToldBy the statement that
	// did, and ToldNo what the store said where it refused it; nil where none was told.
	Told, ToldNo *string
	ToldBy       *uuid.UUID
	// Frozen is why a frozen attempt is, as JSON of a problem.
	Frozen    json.RawMessage `gorm:"type:jsonb"`
	CreatedAt time.Time
	HandedAt  *time.Time
}

// Event is one act of an attempt.
type Event struct {
	AttemptID uuid.UUID `gorm:"primaryKey"`
	Seq       int       `gorm:"primaryKey"`
	ClientID  uuid.UUID
	Body      json.RawMessage `gorm:"type:jsonb"`
	Observed  json.RawMessage `gorm:"type:jsonb"`
	At        time.Time       `gorm:"default:now()"`
}

// Secret is a random value that the server keeps to itself.
type Secret struct {
	Name  string `gorm:"primaryKey"`
	Value []byte
}

// Kinds of paper that instructors write.
const (
	PaperProcedure = "procedure"
	PaperScenario  = "scenario"
)

// Paper is a procedure or a scenario that an instructor writes, with its draft as it was
// last typed.
type Paper struct {
	ID        uuid.UUID
	Kind      string
	OwnerID   uuid.UUID
	Owner     Person
	MachineID uuid.UUID
	Machine   Machine
	// Title and Complaint are the draft's, for lists.
	Title     string
	Complaint string
	Draft     json.RawMessage `gorm:"type:jsonb"`
	// Changes counts the saves of the draft, from 1.
	Changes   int `gorm:"default:1"`
	ChangedBy uuid.UUID
	ChangedAt time.Time `gorm:"default:now()"`
	Archived  bool
	// Level and Minutes are a scenario's, as they were last worked out; nil before that.
	Level   *int
	Minutes *float64
	// WorkedFor names what they were worked out for; nil where they never were.
	WorkedFor *string
	Revisions []PaperRevision
}

// PaperRevision is what was given out; the database refuses to change it.
type PaperRevision struct {
	PaperID  uuid.UUID       `gorm:"primaryKey"`
	Revision int             `gorm:"primaryKey"`
	Body     json.RawMessage `gorm:"type:jsonb"`
	GivenBy  uuid.UUID
	GivenAt  time.Time `gorm:"default:now()"`
}
