package store

import (
	"context"
	"time"

	"github.com/google/uuid"
)

// PersonByName gives somebody by sign-in name, or ErrNotFound.
func (s *Store) PersonByName(ctx context.Context, name string) (p Person, err error) {
	return p, s.db.WithContext(ctx).First(&p, "name = ?", name).Error
}

// Person gives somebody by id, or ErrNotFound.
func (s *Store) Person(ctx context.Context, id uuid.UUID) (p Person, err error) {
	return p, s.db.WithContext(ctx).First(&p, "id = ?", id).Error
}

// Apprentices lists those whom jobs can be given to, by name.
func (s *Store) Apprentices(ctx context.Context) (ps []Person, err error) {
	return ps, s.db.WithContext(ctx).Where("role = ?", Apprentice).Order("display_name").Find(&ps).Error
}

// AddPerson adds somebody.
func (s *Store) AddPerson(ctx context.Context, p *Person) error {
	return s.db.WithContext(ctx).Create(p).Error
}

// NotePassword keeps a new hash of a password.
func (s *Store) NotePassword(ctx context.Context, id uuid.UUID, hash string) error {
	return s.db.WithContext(ctx).Model(&Person{}).Where("id = ?", id).Update("password_hash", hash).Error
}

// FailedSignIns counts recent refused sign-ins for a subject, and says when
// the oldest of them was.
func (s *Store) FailedSignIns(ctx context.Context, subject string, window time.Duration) (n int64, err error) {
	return n, s.db.WithContext(ctx).Model(&SignInFailure{}).
		Where("subject = ? AND at > now() - ? * interval '1 second'", subject, window.Seconds()).Count(&n).Error
}

// NoteFailedSignIn keeps a refused sign-in for each subject, and forgets those
// of more than a day ago.
func (s *Store) NoteFailedSignIn(ctx context.Context, subjects ...string) error {
	rows := make([]SignInFailure, len(subjects))
	for i, subject := range subjects {
		rows[i] = SignInFailure{Subject: subject, At: time.Now()}
	}
	if err := s.db.WithContext(ctx).Create(&rows).Error; err != nil {
		return err
	}
	return s.db.WithContext(ctx).Where("at < now() - interval '1 day'").Delete(&SignInFailure{}).Error
}

// ForgetFailedSignIns clears a subject after a good sign-in.
func (s *Store) ForgetFailedSignIns(ctx context.Context, subject string) error {
	return s.db.WithContext(ctx).Where("subject = ?", subject).Delete(&SignInFailure{}).Error
}
