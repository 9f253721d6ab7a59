package store

import (
	"context"
	"encoding/json"
	"errors"
	"time"

	"github.com/google/uuid"
)

// ErrPaused: somebody who watches has paused the bench.
var ErrPaused = errors.New("the bench is paused")

// Hint is something said between a bench and who watches it.
type Hint struct {
	ID        uuid.UUID
	AttemptID uuid.UUID
	ByID      uuid.UUID
	By        Person
	At        time.Time `gorm:"default:now()"`
	// Seq is where the ledger ended then.
	Seq int
	// Question is the apprentice's; what is none, a teacher's.
	Question bool
	Words    string
}

// AddHint keeps one at the end of its attempt's ledger. The same id once more is the same
// hint; for another attempt or other words it is ErrReused.
func (s *Store) AddHint(ctx context.Context, h *Hint) error {
	return s.Together(ctx, func(tx *Store) error {
		added := tx.db.Exec(`INSERT INTO hints (id, attempt_id, by_id, seq, question, words)
			SELECT ?, id, ?, events, ?, ? FROM attempts WHERE id = ? ON CONFLICT (id) DO NOTHING`, h.ID, h.ByID, h.Question, h.Words, h.AttemptID)
		if added.Error != nil {
			return added.Error
		}
		if added.RowsAffected == 0 {
			var same Hint
			if err := tx.db.First(&same, "id = ?", h.ID).Error; err != nil {
				return err
			}
			if same.AttemptID != h.AttemptID || same.ByID != h.ByID || same.Words != h.Words {
				return ErrReused
			}
			return nil
		}
		return tx.db.Exec("UPDATE attempts SET hinted = hinted + 1 WHERE id = ?", h.AttemptID).Error
	})
}

// Hints lists what was said at a bench, in order.
func (s *Store) Hints(ctx context.Context, attempt uuid.UUID) (hs []Hint, err error) {
	return hs, s.db.WithContext(ctx).Joins("By").Order("hints.at, hints.id").Find(&hs, "hints.attempt_id = ?", attempt).Error
}

// Pause stops a bench, or lets it go on; what was paused before stays so since then.
func (s *Store) Pause(ctx context.Context, attempt uuid.UUID, paused bool) error {
	return s.pause(ctx, paused, "id = ?", attempt)
}

// PauseAll stops every bench of what was given to a class in one act, or lets them go on.
func (s *Store) PauseAll(ctx context.Context, class, giving uuid.UUID, paused bool) error {
	return s.pause(ctx, paused, "job_id IN (SELECT id FROM jobs WHERE class_id = ? AND coalesce(giving, id) = ?)", class, giving)
}

func (s *Store) pause(ctx context.Context, paused bool, of string, args ...any) error {
	to := "NULL"
	if paused {
		to = "now()"
	}
	return s.db.WithContext(ctx).Exec("UPDATE attempts SET paused_at = "+to+" WHERE (paused_at IS NULL) = ? AND state IN ? AND "+of,
		append([]any{paused, open}, args...)...).Error
}

// Versions gives how often each attempt of what was given to a class in one act has changed,
// by its id; of those named, or of all where none is.
func (s *Store) Versions(ctx context.Context, class, giving uuid.UUID, only []uuid.UUID) (map[string]int64, error) {
	var rows []struct {
		ID      string
		Version int64
	}
	sql, args := `SELECT a.id, a.version FROM attempts a JOIN jobs j ON j.id = a.job_id
		WHERE a.state <> ? AND j.class_id = ? AND coalesce(j.giving, j.id) = ?`, []any{StateClosed, class, giving}
	if only != nil {
		sql, args = sql+" AND a.id = ANY(?::uuid[])", append(args, array[uuid.UUID](only))
	}
	err := s.db.WithContext(ctx).Raw(sql, args...).Scan(&rows).Error
	out := map[string]int64{}
	for _, r := range rows {
		out[r.ID] = r.Version
	}
	return out, err
}

// VersionOf gives how often one attempt has changed, and a number that is another whenever
// something was said there or it was paused or let go on.
func (s *Store) VersionOf(ctx context.Context, attempt uuid.UUID) (bench, talk int64, err error) {
	row := s.db.WithContext(ctx).Raw("SELECT version, 2 * hinted + (paused_at IS NOT NULL)::int FROM attempts WHERE id = ?", attempt).Row()
	err = row.Scan(&bench, &talk)
	return bench, talk, err
}

// FloorRow is an attempt as the floor shows it.
type FloorRow struct {
	ID, JobID, ApprenticeID uuid.UUID
	DisplayName             string
	State, ModelVersion     string
	Signed                  bool
	Minutes                 float64
	Events                  int
	Version                 int64
	PausedAt                *time.Time
	Glance                  json.RawMessage
	Mark, MarkOf            *float64
	Outcome                 *string
	Awaits                  *uuid.UUID
	// LastAt is when something was last done, nil for never.
	LastAt *time.Time
	// Question and Words are of what was last said, HintSeq is where the ledger ended at the
	// last hint; nil where nothing was.
	Question *bool
	Words    *string
	HintSeq  *int
}

// Floor lists attempts of what was given to a class in one act, by the names of who has them;
// those named, or all where none is.
func (s *Store) Floor(ctx context.Context, class, giving uuid.UUID, only []uuid.UUID) (rows []FloorRow, err error) {
	sql, args := `SELECT a.id, a.job_id, a.apprentice_id, p.display_name, a.state, a.model_version, a.signed, a.minutes, a.events, a.version,
		a.paused_at, a.glance, a.mark, a.mark_of, a.outcome, a.awaits, e.at AS last_at, h.question, h.words,
		(SELECT max(seq) FROM hints WHERE attempt_id = a.id AND NOT question) AS hint_seq
		FROM attempts a JOIN jobs j ON j.id = a.job_id JOIN people p ON p.id = a.apprentice_id
		LEFT JOIN LATERAL (SELECT at FROM events WHERE attempt_id = a.id ORDER BY seq DESC LIMIT 1) e ON true
		LEFT JOIN LATERAL (SELECT question, words FROM hints WHERE attempt_id = a.id ORDER BY at DESC, id DESC LIMIT 1) h ON true
		WHERE j.class_id = ? AND coalesce(j.giving, j.id) = ? AND a.state <> ?`, []any{class, giving, StateClosed}
	if only != nil {
		sql, args = sql+" AND a.id = ANY(?::uuid[])", append(args, array[uuid.UUID](only))
	}
	return rows, s.db.WithContext(ctx).Raw(sql+" ORDER BY p.display_name, a.id", args...).Scan(&rows).Error
}
