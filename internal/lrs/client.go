package lrs

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"strings"
	"time"
)

// Store is a learning record store somewhere else. The zero value is none.
type Store struct {
	// URL is where its resources stand, such as https://store.example/xapi; Key and Secret
	// are for HTTP Basic authentication.
	URL, Key, Secret string
}

// Set says that there is one.
func (s Store) Set() bool { return s.URL != "" }

// patience is how long an answer may take.
const patience = 10 * time.Second

var client = &http.Client{Timeout: patience}

// Refused is that a store has looked at a statement and said no (400, 409 or 413). Sending
// it again will not help, where a key that is not right or a store that is down can be
// mended.
type Refused struct {
	Status int
	Said   string // its first words
}

func (r *Refused) Error() string {
	return fmt.Sprintf("the record store says %d: %s", r.Status, r.Said)
}

// Put has a statement kept under its id. Sent again it stays as it is, so whoever is not
// sure may send it again. The error is a *Refused, or that the store is away.
func (s Store) Put(ctx context.Context, id string, statement any) error {
	raw, err := json.Marshal(statement)
	if err != nil {
		return err
	}
	to := strings.TrimSuffix(s.URL, "/") + "/statements?statementId=" + url.QueryEscape(id)
	req, err := http.NewRequestWithContext(ctx, http.MethodPut, to, bytes.NewReader(raw))
	if err != nil {
		return err
	}
	req.SetBasicAuth(s.Key, s.Secret)
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set("X-Experience-API-Version", Version)
	r, err := client.Do(req)
	if err != nil {
		return err
	}
	defer r.Body.Close()
	said, _ := io.ReadAll(io.LimitReader(r.Body, 300))
	switch {
	case r.StatusCode < 300:
		return nil
	case r.StatusCode == http.StatusBadRequest, r.StatusCode == http.StatusConflict, r.StatusCode == http.StatusRequestEntityTooLarge:
		return &Refused{r.StatusCode, strings.TrimSpace(string(said))}
	}
	return fmt.Errorf("the record store answers %d", r.StatusCode)
}
