package store

import (
	"context"

	"github.com/google/uuid"
	"gorm.io/gorm"
)

// Erased is what stands for the name of somebody who is erased.
const Erased = "–"

// Erase leaves of somebody only their attempts, without a name: what they typed and what was
// written of them is blanked, and they are in no class and no roster. It gives ErrNotFound
// for nobody. Backups that were made before, and what a record store was told, are not
// reached by it.
func (s *Store) Erase(ctx context.Context, id uuid.UUID) error {
	return s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		var p Person
		if err := tx.First(&p, "id = ?", id).Error; err != nil {
			return err
		}
		key := p.ID.String()
		if p.SourcedID != nil {
			key = *p.SourcedID
		}
		for _, x := range []struct {
			sql  string
			args []any
		}{
			{"SET LOCAL zanjero.erasing = 'on'", nil},
			{`UPDATE people SET name = 'erased-' || id, display_name = ?, password_hash = '', demo = false, disabled = true, must_change = false,
				left_at = coalesce(left_at, now()), sourced_id = NULL, erased_at = now(), session_epoch = session_epoch + 1 WHERE id = ?`, []any{Erased, id}},
			{"DELETE FROM class_members WHERE person_id = ?", []any{id}},
			{"DELETE FROM roster_records WHERE kind = 'users' AND id = ? OR kind = 'enrollments' AND record ->> 'userSourcedId' = ?", []any{key, key}},
			{"UPDATE counters SET value = value + 1 WHERE name = ?", []any{rosterCounter}},
			{`UPDATE review_acts SET body = jsonb_set(body, '{text}', '""') WHERE jsonb_exists(body, 'text')
				AND attempt_id IN (SELECT id FROM attempts WHERE apprentice_id = ?)`, []any{id}},
			{`UPDATE attempts SET draft = CASE WHEN jsonb_exists(draft, 'note') THEN jsonb_set(draft, '{note}', '""') ELSE draft END,
				assessment = CASE WHEN jsonb_exists(assessment -> 'hand_over', 'note') THEN jsonb_set(assessment, '{hand_over,note}', '""') ELSE assessment END
				WHERE apprentice_id = ?`, []any{id}},
			{"UPDATE hints SET words = '' WHERE by_id = ? OR attempt_id IN (SELECT id FROM attempts WHERE apprentice_id = ?)", []any{id, id}},
			{"UPDATE bug_acts SET body = body - 'initials' WHERE by_id = ? AND jsonb_exists(body, 'initials')", []any{id}},
			{"DELETE FROM photos WHERE by_id = ? OR attempt_id IN (SELECT id FROM attempts WHERE apprentice_id = ?)", []any{id, id}},
			{"UPDATE observed SET initials = '' WHERE by_id = ?", []any{id}},
			{"DELETE FROM sign_in_tries WHERE position(? in subject) > 0", []any{p.Name}},
		} {
			if err := tx.Exec(x.sql, x.args...).Error; err != nil {
				return err
			}
		}
		return nil
	})
}

// EventsOf lists the events of somebody's attempts, by attempt.
func (s *Store) EventsOf(ctx context.Context, who uuid.UUID) (map[uuid.UUID][]Event, error) {
	var all []Event
	err := s.db.WithContext(ctx).Order("attempt_id, seq").Find(&all, "attempt_id IN (SELECT id FROM attempts WHERE apprentice_id = ?)", who).Error
	out := map[uuid.UUID][]Event{}
	for _, e := range all {
		out[e.AttemptID] = append(out[e.AttemptID], e)
	}
	return out, err
}
