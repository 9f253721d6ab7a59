// Package store keeps people, machines, jobs and attempts in PostgreSQL.
package store

import (
	"context"
	"crypto/rand"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"time"

	_ "github.com/jackc/pgx/v5/stdlib"
	"github.com/pressly/goose/v3"
	"gorm.io/driver/postgres"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
	"gorm.io/gorm/logger"
)

// ErrNotFound: there is no such row.
var ErrNotFound = gorm.ErrRecordNotFound

//go:embed migrations/*.sql
var migrations embed.FS

// Store is the database. It is safe for use by many goroutines.
type Store struct {
	db  *gorm.DB
	sql *sql.DB
}

// Open connects to a database, brings its schema up to date, and returns it.
func Open(ctx context.Context, url string) (*Store, error) {
	pool, err := sql.Open("pgx", url)
	if err != nil {
		return nil, fmt.Errorf("database: %w", err)
	}
	pool.SetMaxOpenConns(24)
	pool.SetMaxIdleConns(24)
	pool.SetConnMaxIdleTime(5 * time.Minute)
	if err := pool.PingContext(ctx); err != nil {
		pool.Close()
		return nil, fmt.Errorf("database: %w", err)
	}
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	provider, err := goose.NewProvider(goose.DialectPostgres, pool, files)
	if err == nil {
		_, err = provider.Up(ctx)
	}
	if err != nil {
		pool.Close()
		return nil, fmt.Errorf("database: migrating: %w", err)
	}
	db, err := gorm.Open(postgres.New(postgres.Config{Conn: pool}), &gorm.Config{
		Logger: logger.Default.LogMode(logger.Silent), SkipDefaultTransaction: true, TranslateError: true,
	})
	if err != nil {
		pool.Close()
		return nil, fmt.Errorf("database: %w", err)
	}
	return &Store{db: db, sql: pool}, nil
}

// SQL is the pool that the session store shares.
func (s *Store) SQL() *sql.DB { return s.sql }

// Close closes the connections.
func (s *Store) Close() error { return s.sql.Close() }

// Secret returns the server's secret of that name, making it the first time.
func (s *Store) Secret(ctx context.Context, name string) ([]byte, error) {
	value := make([]byte, 32)
	rand.Read(value)
	row := Secret{Name: name, Value: value}
	if err := s.db.WithContext(ctx).Clauses(clause.OnConflict{DoNothing: true}).Create(&row).Error; err != nil {
		return nil, err
	}
	err := s.db.WithContext(ctx).First(&row, "name = ?", name).Error
	return row.Value, err
}

// IsDuplicate says that a row with that key is already there.
func IsDuplicate(err error) bool { return errors.Is(err, gorm.ErrDuplicatedKey) }

// Empty says that nobody is in the database yet.
func (s *Store) Empty(ctx context.Context) (bool, error) {
	var n int64
	err := s.db.WithContext(ctx).Model(&Person{}).Count(&n).Error
	return n == 0, err
}

// Together does several things in one transaction: all of them, or none.
func (s *Store) Together(ctx context.Context, f func(tx *Store) error) error {
	return s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error { return f(&Store{db: tx, sql: s.sql}) })
}
