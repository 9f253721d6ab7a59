package store

import (
	"context"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
)

// PersonByName gives somebody by sign-in name, or ErrNotFound.
func (s *Store) PersonByName(ctx context.Context, name string) (p Person, err error) {
	return p, s.db.WithContext(ctx).First(&p, "name = ?", name).Error
}

// People lists everybody who is not erased by display name, of one role or of all for "".
func (s *Store) People(ctx context.Context, role string) (ps []Person, err error) {
	q := s.db.WithContext(ctx).Where("erased_at IS NULL").Order("display_name, id")
	if role != "" {
		q = q.Where("role = ?", role)
	}
	return ps, q.Find(&ps).Error
}

// Apprentices lists those whom jobs can be given to, by name.
func (s *Store) Apprentices(ctx context.Context) (ps []Person, err error) {
	return ps, s.db.WithContext(ctx).Where("role = ? AND NOT disabled AND left_at IS NULL", Apprentice).Order("display_name, id").Find(&ps).Error
}

// AddPerson adds somebody. A name that is taken gives an error of which
// IsDuplicate says so.
func (s *Store) AddPerson(ctx context.Context, p *Person) error {
	return s.db.WithContext(ctx).Create(p).Error
}

// NotePassword keeps a new hash of a password and ends the sessions that began
// under the old one. It gives ErrNotFound for nobody.
func (s *Store) NotePassword(ctx context.Context, id uuid.UUID, hash string) error {
	return s.changePerson(ctx, id, map[string]any{"password_hash": hash, "session_epoch": gorm.Expr("session_epoch + 1")})
}

// Disable bars somebody from signing in and ends their sessions, or lets them
// in again.
func (s *Store) Disable(ctx context.Context, id uuid.UUID, disabled bool) error {
	return s.changePerson(ctx, id, map[string]any{"disabled": disabled, "session_epoch": gorm.Expr("session_epoch + 1")})
}

// EndSessions ends every session of somebody, wherever it is.
func (s *Store) EndSessions(ctx context.Context, id uuid.UUID) error {
	return s.changePerson(ctx, id, map[string]any{"session_epoch": gorm.Expr("session_epoch + 1")})
}

func (s *Store) changePerson(ctx context.Context, id uuid.UUID, to map[string]any) error {
	r := s.db.WithContext(ctx).Model(&Person{}).Where("id = ?", id).Updates(to)
	if r.Error == nil && r.RowsAffected == 0 {
		return ErrNotFound
	}
	return r.Error
}

// NoteSignIn counts a try to sign in for a subject, in one statement, and gives
// how many there have been within the window, this one among them. Tries that
// come at once are counted one after the other.
func (s *Store) NoteSignIn(ctx context.Context, subject string, window time.Duration) (tries int, err error) {
	row := s.db.WithContext(ctx).Raw(`INSERT INTO sign_in_tries AS t (subject) VALUES (?)
		ON CONFLICT (subject) DO UPDATE SET
			tries = CASE WHEN t.since < now() - ? * interval '1 second' THEN 1 ELSE t.tries + 1 END,
			since = CASE WHEN t.since < now() - ? * interval '1 second' THEN now() ELSE t.since END
		RETURNING tries`, subject, window.Seconds(), window.Seconds())
	return tries, row.Scan(&tries).Error
}

// ForgetSignIns clears a subject after a good sign-in, and takes this try back
// from others, which people share.
func (s *Store) ForgetSignIns(ctx context.Context, subject string, shared ...string) error {
	return s.db.WithContext(ctx).Exec(`WITH mine AS (DELETE FROM sign_in_tries WHERE subject = ?)
		UPDATE sign_in_tries SET tries = greatest(tries - 1, 0) WHERE subject IN ?`, subject, append(shared, "")).Error
}

// SweepSignIns takes away what was counted more than a window ago.
func (s *Store) SweepSignIns(ctx context.Context, window time.Duration) error {
	return s.db.WithContext(ctx).Exec("DELETE FROM sign_in_tries WHERE since < now() - ? * interval '1 second'", window.Seconds()).Error
}

// Speak keeps the language that somebody reads in.
func (s *Store) Speak(ctx context.Context, person uuid.UUID, language string) error {
	return s.db.WithContext(ctx).Model(&Person{}).Where("id = ?", person).Update("language", language).Error
}
