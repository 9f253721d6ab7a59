package store

import (
	"context"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
)

// Procedures lists all with owner, machine and revisions, and without the drafts and
// what stands in the revisions; the last changed first.
func (s *Store) Procedures(ctx context.Context) (ps []Procedure, err error) {
	return ps, s.db.WithContext(ctx).Omit("Draft").Joins("Owner").Joins("Machine", s.db.Omit("Sheet")).
		Preload("Revisions", revisions).Order("procedures.changed_at DESC, procedures.id").Find(&ps).Error
}

// revisions are listed without what stands in them.
func revisions(tx *gorm.DB) *gorm.DB { return tx.Omit("Body").Order("revision") }

// Procedure gives one with owner, machine and the list of its revisions, or ErrNotFound.
func (s *Store) Procedure(ctx context.Context, id uuid.UUID) (p Procedure, err error) {
	return p, s.db.WithContext(ctx).Joins("Owner").Joins("Machine").Preload("Revisions", revisions).First(&p, "procedures.id = ?", id).Error
}

// AddProcedures keeps new ones, all or none. One whose id is there already stays as it
// is, so the same may be asked for again; the error is ErrReused where it is another's.
func (s *Store) AddProcedures(ctx context.Context, ps ...*Procedure) error {
	return s.Together(ctx, func(tx *Store) error {
		for _, p := range ps {
			var same []Procedure
			if err := tx.db.Select("id", "owner_id").Find(&same, "id = ?", p.ID).Error; err != nil {
				return err
			}
			if len(same) > 0 {
				if same[0].OwnerID != p.OwnerID {
					return ErrReused
				}
				continue
			}
			p.ChangedBy = p.OwnerID
			if err := tx.db.Omit("Owner", "Machine", "Revisions").Create(p).Error; err != nil {
				return err
			}
		}
		return nil
	})
}

// SaveProcedure keeps the draft, title, complaint and machine of one whose Changes are
// still those it was read with, and moves them on; otherwise it gives ErrStale.
func (s *Store) SaveProcedure(ctx context.Context, p *Procedure, by uuid.UUID) error {
	done := s.db.WithContext(ctx).Model(&Procedure{}).Where("id = ? AND changes = ?", p.ID, p.Changes).
		Updates(map[string]any{"draft": p.Draft, "title": p.Title, "complaint": p.Complaint, "machine_id": p.MachineID,
			"changes": p.Changes + 1, "changed_by": by, "changed_at": time.Now()})
	if done.Error != nil {
		return done.Error
	}
	if done.RowsAffected == 0 {
		return ErrStale
	}
	p.Changes++
	return nil
}

// GiveOut makes what body says the next revision of a procedure whose draft is still at
// so many changes; otherwise it gives ErrStale. body is told the revision's number.
func (s *Store) GiveOut(ctx context.Context, id uuid.UUID, changes int, by uuid.UUID, body func(revision int) ([]byte, error)) error {
	return s.Together(ctx, func(tx *Store) error {
		// The row is held, so that two who give out at once get two numbers.
		held := tx.db.Model(&Procedure{}).Where("id = ? AND changes = ?", id, changes).Update("changes", changes)
		if held.Error != nil {
			return held.Error
		}
		if held.RowsAffected == 0 {
			return ErrStale
		}
		var last int
		if err := tx.db.Model(&ProcedureRevision{}).Where("procedure_id = ?", id).Select("coalesce(max(revision), 0)").Scan(&last).Error; err != nil {
			return err
		}
		raw, err := body(last + 1)
		if err != nil {
			return err
		}
		return tx.db.Create(&ProcedureRevision{ProcedureID: id, Revision: last + 1, Body: raw, GivenBy: by}).Error
	})
}

// Revision gives one that was given out, or ErrNotFound.
func (s *Store) Revision(ctx context.Context, procedure uuid.UUID, revision int) (r ProcedureRevision, err error) {
	return r, s.db.WithContext(ctx).First(&r, "procedure_id = ? AND revision = ?", procedure, revision).Error
}

// Archive puts a procedure away, or fetches it back. Nothing of it is lost.
func (s *Store) Archive(ctx context.Context, id uuid.UUID, away bool) error {
	done := s.db.WithContext(ctx).Model(&Procedure{}).Where("id = ?", id).Update("archived", away)
	if done.Error == nil && done.RowsAffected == 0 {
		return ErrNotFound
	}
	return done.Error
}
