package store

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
)

// Papers lists all of a kind with owner, machine and revisions, and without what stands in
// the revisions; the last changed first.
func (s *Store) Papers(ctx context.Context, kind string) (ps []Paper, err error) {
	return ps, s.db.WithContext(ctx).Where("papers.kind = ?", kind).Joins("Owner").Joins("Machine", s.db.Omit("Sheet")).
		Preload("Revisions", revisions).Order("papers.changed_at DESC, papers.title, papers.id").Find(&ps).Error
}

// revisions are listed without what stands in them.
func revisions(tx *gorm.DB) *gorm.DB { return tx.Omit("Body").Order("revision") }

// Paper gives one with owner, machine and the list of its revisions, or ErrNotFound.
func (s *Store) Paper(ctx context.Context, kind string, id uuid.UUID) (p Paper, err error) {
	return p, s.db.WithContext(ctx).Joins("Owner").Joins("Machine").Preload("Revisions", revisions).
		First(&p, "papers.id = ? AND papers.kind = ?", id, kind).Error
}

// AddPapers keeps new ones, all or none. One whose id is there already stays as it
// is, so the same may be asked for again; the error is ErrReused where it is another's.
func (s *Store) AddPapers(ctx context.Context, ps ...*Paper) error {
	return s.Together(ctx, func(tx *Store) error {
		for _, p := range ps {
			var same []Paper
			if err := tx.db.Select("id", "owner_id", "kind").Find(&same, "id = ?", p.ID).Error; err != nil {
				return err
			}
			if len(same) > 0 {
				if same[0].OwnerID != p.OwnerID || same[0].Kind != p.Kind {
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

// SavePaper keeps the draft, title, complaint and machine of one whose Changes are
// still those it was read with, and moves them on; otherwise it gives ErrStale.
func (s *Store) SavePaper(ctx context.Context, p *Paper, by uuid.UUID) error {
	done := s.db.WithContext(ctx).Model(&Paper{}).Where("id = ? AND kind = ? AND changes = ?", p.ID, p.Kind, p.Changes).
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

// GiveOut makes what body says the next revision of a paper whose draft is still at
// so many changes; otherwise it gives ErrStale. body is told the revision's number.
func (s *Store) GiveOut(ctx context.Context, id uuid.UUID, changes int, by uuid.UUID, body func(revision int) ([]byte, error)) error {
	return s.Together(ctx, func(tx *Store) error {
		// The row is held, so that two who give out at once get two numbers.
		held := tx.db.Model(&Paper{}).Where("id = ? AND changes = ?", id, changes).Update("changes", changes)
		if held.Error != nil {
			return held.Error
		}
		if held.RowsAffected == 0 {
			return ErrStale
		}
		var last int
		if err := tx.db.Model(&PaperRevision{}).Where("paper_id = ?", id).Select("coalesce(max(revision), 0)").Scan(&last).Error; err != nil {
			return err
		}
		raw, err := body(last + 1)
		if err != nil {
			return err
		}
		return tx.db.Create(&PaperRevision{PaperID: id, Revision: last + 1, Body: raw, GivenBy: by}).Error
	})
}

// Revision gives one that was given out, or ErrNotFound.
func (s *Store) Revision(ctx context.Context, paper uuid.UUID, revision int) (r PaperRevision, err error) {
	return r, s.db.WithContext(ctx).First(&r, "paper_id = ? AND revision = ?", paper, revision).Error
}

// Archive puts a paper away, or fetches it back. Nothing of it is lost.
func (s *Store) Archive(ctx context.Context, kind string, id uuid.UUID, away bool) error {
	done := s.db.WithContext(ctx).Model(&Paper{}).Where("id = ? AND kind = ?", id, kind).Update("archived", away)
	if done.Error == nil && done.RowsAffected == 0 {
		return ErrNotFound
	}
	return done.Error
}

// GoesBy names all that a scenario's level and minutes go by: the model's version, how
// often the yard's own figures were changed, its machine and its draft.
func (p *Paper) GoesBy(version string, own int) string {
	return fmt.Sprintf("%s/%d/%d/%d", version, own, p.Machine.Revision, p.Changes)
}

// WorkedOut keeps what a scenario was worked out to come to, nil for nothing, and for what.
// One that has been changed since it was read stays as it is.
func (s *Store) WorkedOut(ctx context.Context, p *Paper, level *int, minutes *float64, workedFor string) error {
	return s.db.WithContext(ctx).Model(&Paper{}).Where("id = ? AND changes = ?", p.ID, p.Changes).
		Updates(map[string]any{"level": level, "minutes": minutes, "worked_for": workedFor}).Error
}

// Came is what a scenario came to when it was given: how many attempts, how many of them
// are marked, and of those the mean share of the marks and the mean minutes.
type Came struct {
	PaperID       uuid.UUID
	Given, Marked int
	Share, Took   *float64
}

// CameTo tells it of every scenario that was given out.
func (s *Store) CameTo(ctx context.Context) (out []Came, err error) {
	return out, s.db.WithContext(ctx).Raw(`SELECT j.paper_id, count(*) AS given, count(*) FILTER (WHERE a.state = ?) AS marked,
		avg(a.mark / nullif(a.mark_of, 0)) FILTER (WHERE a.state = ?) AS share, avg(a.minutes) FILTER (WHERE a.state = ?) AS took
		FROM attempts a JOIN jobs j ON j.id = a.job_id WHERE j.paper_id IS NOT NULL AND NOT j.practice GROUP BY j.paper_id`,
		StateHandedOver, StateHandedOver, StateHandedOver).Scan(&out).Error
}
