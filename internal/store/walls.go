package store

import (
	"context"
	"encoding/json"
	"errors"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Wall is a scenario that a class works together.
type Wall struct {
	ID       uuid.UUID
	ClassID  uuid.UUID
	Class    Class
	MadeBy   uuid.UUID
	Scenario json.RawMessage `gorm:"type:jsonb"`
	Seed     int64
	// CreatedAt is when it began, ToldAt when what is hidden was told, which ends it; nil before.
	CreatedAt time.Time
	ToldAt    *time.Time
	// Version counts all changes but votes, Votes how often somebody has voted.
	Version, Votes int64
	Rounds         []WallRound
}

// WallRound is one vote and what came of it. Worths are there once the vote is closed, the
// rest once a test was made.
type WallRound struct {
	WallID  uuid.UUID       `gorm:"primaryKey"`
	Round   int             `gorm:"primaryKey"`
	Worths  json.RawMessage `gorm:"type:jsonb"`
	Test    *string
	Told    json.RawMessage `gorm:"type:jsonb"`
	Board   json.RawMessage `gorm:"type:jsonb"`
	Minutes *float64
}

// Last is the round that a wall is in.
func (w *Wall) Last() *WallRound { return &w.Rounds[len(w.Rounds)-1] }

// AddWall begins one, with its first round. The same id once more changes nothing.
func (s *Store) AddWall(ctx context.Context, w *Wall) error {
	return s.Together(ctx, func(tx *Store) error {
		made := tx.db.Clauses(clause.OnConflict{DoNothing: true}).Omit("Class", "Rounds").Create(w)
		if made.Error != nil || made.RowsAffected == 0 {
			return made.Error
		}
		return tx.db.Create(&WallRound{WallID: w.ID}).Error
	})
}

// Wall gives one with its class and rounds, or ErrNotFound.
func (s *Store) Wall(ctx context.Context, id uuid.UUID) (w Wall, err error) {
	return w, s.db.WithContext(ctx).Joins("Class").Preload("Rounds", func(db *gorm.DB) *gorm.DB { return db.Order("round") }).First(&w, "walls.id = ?", id).Error
}

// Walls lists those that have not ended, the latest first: of the classes that somebody is
// in, or all where nobody is named.
func (s *Store) Walls(ctx context.Context, member *uuid.UUID) (ws []Wall, err error) {
	q := s.db.WithContext(ctx).Joins("Class").Where("walls.told_at IS NULL").Order("walls.created_at DESC")
	if member != nil {
		q = q.Where("walls.class_id IN (SELECT class_id FROM class_members WHERE person_id = ?)", *member)
	}
	return ws, q.Find(&ws).Error
}

// IsMember says that somebody is in a class.
func (s *Store) IsMember(ctx context.Context, class, person uuid.UUID) (bool, error) {
	var n int64
	err := s.db.WithContext(ctx).Model(&Member{}).Where("class_id = ? AND person_id = ?", class, person).Count(&n).Error
	return n > 0, err
}

// ErrVoteOver: the vote is closed, or another round is on.
var ErrVoteOver = errors.New("the vote is over")

// Vote keeps somebody's vote of a round, in place of the one before; it gives ErrVoteOver
// where that round takes none.
func (s *Store) Vote(ctx context.Context, wall uuid.UUID, round int, person uuid.UUID, test string) error {
	return s.Together(ctx, func(tx *Store) error {
		kept := tx.db.Exec(`INSERT INTO wall_votes (wall_id, round, person_id, test)
			SELECT r.wall_id, r.round, ?, ? FROM wall_rounds r JOIN walls w ON w.id = r.wall_id
			WHERE r.wall_id = ? AND r.round = ? AND r.worths IS NULL AND w.told_at IS NULL FOR SHARE OF r
			ON CONFLICT (wall_id, round, person_id) DO UPDATE SET test = excluded.test`, person, test, wall, round)
		if kept.Error != nil {
			return kept.Error
		}
		if kept.RowsAffected == 0 {
			return ErrVoteOver
		}
		return tx.db.Exec("UPDATE walls SET votes = votes + 1 WHERE id = ?", wall).Error
	})
}

// WallVotes counts the votes of a wall, by round and test.
func (s *Store) WallVotes(ctx context.Context, wall uuid.UUID) (map[int]map[string]int, error) {
	var rows []struct {
		Round, N int
		Test     string
	}
	err := s.db.WithContext(ctx).Raw("SELECT round, test, count(*) AS n FROM wall_votes WHERE wall_id = ? GROUP BY 1, 2", wall).Scan(&rows).Error
	out := map[int]map[string]int{}
	for _, r := range rows {
		if out[r.Round] == nil {
			out[r.Round] = map[string]int{}
		}
		out[r.Round][r.Test] = r.N
	}
	return out, err
}

// VoteOf is what somebody has voted for in a round, empty for nothing yet.
func (s *Store) VoteOf(ctx context.Context, wall uuid.UUID, round int, person uuid.UUID) (test string, err error) {
	var all []string
	err = s.db.WithContext(ctx).Raw("SELECT test FROM wall_votes WHERE wall_id = ? AND round = ? AND person_id = ?", wall, round, person).Scan(&all).Error
	if len(all) > 0 {
		test = all[0]
	}
	return test, err
}

// StepWall does the next thing at a wall that still stands at a version, and gives ErrStale
// where it does not: round is what its last round becomes, nil for as it was; next begins
// another round, and tell ends it.
func (s *Store) StepWall(ctx context.Context, wall uuid.UUID, version int64, round *WallRound, next, tell bool) error {
	return s.Together(ctx, func(tx *Store) error {
		to := map[string]any{"version": version + 1}
		if tell {
			to["told_at"] = time.Now()
		}
		done := tx.db.Model(&Wall{}).Where("id = ? AND version = ? AND told_at IS NULL", wall, version).Updates(to)
		switch {
		case done.Error != nil:
			return done.Error
		case done.RowsAffected == 0:
			return ErrStale
		case round == nil:
			return nil
		}
		err := tx.db.Model(&WallRound{}).Where("wall_id = ? AND round = ?", wall, round.Round).
			Updates(map[string]any{"worths": round.Worths, "test": round.Test, "told": round.Told, "board": round.Board, "minutes": round.Minutes}).Error
		if err != nil || !next {
			return err
		}
		return tx.db.Create(&WallRound{WallID: wall, Round: round.Round + 1}).Error
	})
}

// WallVersions gives a number that is another whenever a wall is, and one whenever somebody
// has voted.
func (s *Store) WallVersions(ctx context.Context, wall uuid.UUID) (changes, votes int64, err error) {
	err = s.db.WithContext(ctx).Raw("SELECT version, votes FROM walls WHERE id = ?", wall).Row().Scan(&changes, &votes)
	return changes, votes, err
}
