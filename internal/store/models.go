package store

import (
	"encoding/json"
	"time"

	"github.com/google/uuid"
)

// Roles.
const (
	Instructor = "instructor"
	Apprentice = "apprentice"
)

// States of an attempt.
const (
	StateNew        = "new"
	StateInHand     = "in-hand"
	StateHandedOver = "handed-over"
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
}

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
	ID        uuid.UUID
	Number    int64 `gorm:"->"` // given by the database
	MachineID uuid.UUID
	Machine   Machine
	SetBy     uuid.UUID
	Scenario  json.RawMessage `gorm:"type:jsonb"`
	CreatedAt time.Time
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
	Events       int             // how many it has
	Draft        json.RawMessage `gorm:"type:jsonb"`
	Assessment   json.RawMessage `gorm:"type:jsonb"`
	CreatedAt    time.Time
	HandedAt     *time.Time
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

// SignInFailure is a refused sign-in, kept to slow the next.
type SignInFailure struct {
	Subject string
	At      time.Time `gorm:"default:now()"`
}

// Secret is a random value that the server keeps to itself.
type Secret struct {
	Name  string `gorm:"primaryKey"`
	Value []byte
}
