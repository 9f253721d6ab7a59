package store

import (
	"context"
	"encoding/json"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm/clause"
)

// Instrument is a gauge, meter or tachometer of the yard.
type Instrument struct {
	ID   uuid.UUID
	Code string // as it is written on it
	Name string
	// CheckedOn is the day of its last check, DueOn that of the next.
	CheckedOn, DueOn time.Time `gorm:"type:date"`
	// Reads is how much it reads too high, by test, in the unit of the test.
	Reads    json.RawMessage `gorm:"type:jsonb"`
	Gone     bool
	Revision int
}

// Instruments lists those of the yard by their code, those that are no longer in use too.
func (s *Store) Instruments(ctx context.Context) (is []Instrument, err error) {
	return is, s.db.WithContext(ctx).Order("gone, code").Find(&is).Error
}

// KeepInstrument keeps a new one at revision 0, or another revision of one that stands at
// the one given; where somebody else was quicker it is ErrStale. A code that another has is
// a duplicate.
func (s *Store) KeepInstrument(ctx context.Context, i *Instrument) error {
	db, was := s.db.WithContext(ctx), i.Revision
	i.Revision++
	if was == 0 {
		return db.Create(i).Error
	}
	kept := db.Model(&Instrument{}).Where("id = ? AND revision = ?", i.ID, was).
		Select("code", "name", "checked_on", "due_on", "reads", "gone", "revision").Updates(i)
	if kept.Error == nil && kept.RowsAffected == 0 {
		return ErrStale
	}
	return kept.Error
}

// Photo is what somebody saw at a real engine.
type Photo struct {
	ID        uuid.UUID
	AttemptID uuid.UUID
	Note      string
	Image     []byte // JPEG
	ByID      uuid.UUID
	By        Person
	At        time.Time `gorm:"default:now()"`
}

// Photos lists those of an attempt in the order in which they came, without the images.
func (s *Store) Photos(ctx context.Context, attempt uuid.UUID) (ps []Photo, err error) {
	return ps, s.db.WithContext(ctx).Omit("Image").Joins("By").Order("photos.at, photos.id").Find(&ps, "attempt_id = ?", attempt).Error
}

// Photo gives one of an attempt with its image, or ErrNotFound.
func (s *Store) Photo(ctx context.Context, attempt, id uuid.UUID) (p Photo, err error) {
	return p, s.db.WithContext(ctx).First(&p, "attempt_id = ? AND id = ?", attempt, id).Error
}

// AddPhoto keeps one of at most so many, while the attempt is open. The same once more
// changes nothing. It gives ErrClosed for one that was handed over, and ErrFull.
func (s *Store) AddPhoto(ctx context.Context, p *Photo, most int) error {
	return s.Together(ctx, func(tx *Store) error {
		if err := tx.openAttempt(p.AttemptID); err != nil {
			return err
		}
		var n int64
		if err := tx.db.Model(&Photo{}).Where("attempt_id = ? AND id <> ?", p.AttemptID, p.ID).Count(&n).Error; err != nil {
			return err
		}
		if int(n) >= most {
			return ErrFull
		}
		return tx.db.Omit("By").Clauses(clause.OnConflict{DoNothing: true}).Create(p).Error
	})
}

// DropPhoto takes one away while the attempt is open, or gives ErrClosed.
func (s *Store) DropPhoto(ctx context.Context, attempt, id uuid.UUID) error {
	return s.Together(ctx, func(tx *Store) error {
		if err := tx.openAttempt(attempt); err != nil {
			return err
		}
		return tx.db.Delete(&Photo{}, "attempt_id = ? AND id = ?", attempt, id).Error
	})
}

// openAttempt holds an attempt in a transaction, or gives ErrClosed for one that was handed
// over.
func (s *Store) openAttempt(id uuid.UUID) error {
	var a Attempt
	if err := s.db.Clauses(clause.Locking{Strength: "UPDATE"}).Select("id", "state").First(&a, "id = ?", id).Error; err != nil {
		return err
	}
	if a.State != StateNew && a.State != StateInHand {
		return ErrClosed
	}
	return nil
}

// DeviceCode is the code under which readings may be posted to an attempt: the one that is
// given, where there is none yet.
func (s *Store) DeviceCode(ctx context.Context, attempt uuid.UUID, code string) (string, error) {
	row := struct {
		AttemptID uuid.UUID
		Code      string
	}{attempt, code}
	db := s.db.WithContext(ctx).Table("device_codes")
	if err := db.Clauses(clause.OnConflict{DoNothing: true}).Create(&row).Error; err != nil {
		return "", err
	}
	err := s.db.WithContext(ctx).Table("device_codes").Select("code").Where("attempt_id = ?", attempt).Scan(&row.Code).Error
	return row.Code, err
}

// DeviceReading is a line that a program at the bench has posted.
type DeviceReading struct {
	ID        int64
	AttemptID uuid.UUID
	Line      string
	At        time.Time `gorm:"default:now()"`
}

// PostDeviceReading keeps a line for the attempt that a code stands for, and no more than
// the last few of it. It gives ErrNotFound for a code of none, and ErrClosed for an attempt
// that was handed over.
func (s *Store) PostDeviceReading(ctx context.Context, code, line string, keep int) error {
	return s.Together(ctx, func(tx *Store) error {
		var at []uuid.UUID
		if err := tx.db.Table("device_codes").Where("code = ?", code).Pluck("attempt_id", &at).Error; err != nil {
			return err
		}
		if len(at) == 0 {
			return ErrNotFound
		}
		if err := tx.openAttempt(at[0]); err != nil {
			return err
		}
		if err := tx.db.Create(&DeviceReading{AttemptID: at[0], Line: line}).Error; err != nil {
			return err
		}
		return tx.db.Exec(`DELETE FROM device_readings WHERE attempt_id = ? AND id NOT IN
			(SELECT id FROM device_readings WHERE attempt_id = ? ORDER BY id DESC LIMIT ?)`, at[0], at[0], keep).Error
	})
}

// DeviceReadings lists what was posted to an attempt, the latest first.
func (s *Store) DeviceReadings(ctx context.Context, attempt uuid.UUID) (rs []DeviceReading, err error) {
	return rs, s.db.WithContext(ctx).Order("id DESC").Find(&rs, "attempt_id = ?", attempt).Error
}
