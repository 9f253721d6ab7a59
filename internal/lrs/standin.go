// Package lrs is the road to a learning record store, and a small store that stands in for
// one. Both speak xAPI 1.0.3 (IEEE 9274.1.1), of which the stand-in takes the statements
// that this application makes, and refuses what breaks the rules.
package lrs

import (
	"crypto/subtle"
	"encoding/json"
	"fmt"
	"net/http"
	"net/url"
	"reflect"
	"regexp"
	"slices"
	"sync"
	"time"

	"github.com/google/uuid"
)

// Version of xAPI that is spoken.
const Version = "1.0.3"

// StandIn is a record store that keeps what it gets in memory. Its fields are set before it
// serves, and not changed then.
type StandIn struct {
	Key, Secret string

	mu     sync.Mutex
	kept   map[string]json.RawMessage
	order  []string
	voided map[string]bool
	// down has it answer that it cannot, so many times.
	down int
}

// Fail has the next so many questions answered with 503.
func (s *StandIn) Fail(times int) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.down = times
}

// Statements gives what is kept, in the order in which it came.
func (s *StandIn) Statements() (out []json.RawMessage) {
	s.mu.Lock()
	defer s.mu.Unlock()
	for _, id := range s.order {
		out = append(out, s.kept[id])
	}
	return out
}

// Voided says that a statement has been taken back.
func (s *StandIn) Voided(id string) bool {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.voided[id]
}

// ServeHTTP answers PUT and GET of /statements with a statementId.
func (s *StandIn) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	w.Header().Set("X-Experience-API-Version", Version)
	key, secret, _ := r.BasicAuth()
	s.mu.Lock()
	defer s.mu.Unlock()
	switch {
	case s.down > 0:
		s.down--
		http.Error(w, "it is down", http.StatusServiceUnavailable)
		return
	case key != s.Key || subtle.ConstantTimeCompare([]byte(secret), []byte(s.Secret)) != 1:
		http.Error(w, "the key or the secret is not right", http.StatusUnauthorized)
		return
	case r.Header.Get("X-Experience-API-Version") != Version:
		http.Error(w, "the header X-Experience-API-Version does not say "+Version, http.StatusBadRequest)
		return
	case r.URL.Path != "/statements":
		http.Error(w, "only /statements is here", http.StatusNotFound)
		return
	}
	id := r.URL.Query().Get("statementId")
	switch r.Method {
	case http.MethodGet:
		raw, there := s.kept[id]
		if !there || s.voided[id] {
			http.Error(w, "there is no such statement", http.StatusNotFound)
			return
		}
		w.Header().Set("Content-Type", "application/json")
		_, _ = w.Write(raw)
	case http.MethodPut:
		s.put(w, r, id)
	default:
		http.Error(w, "only PUT and GET are known", http.StatusMethodNotAllowed)
	}
}

func (s *StandIn) put(w http.ResponseWriter, r *http.Request, id string) {
	var raw json.RawMessage
	if err := json.NewDecoder(http.MaxBytesReader(w, r.Body, 1<<20)).Decode(&raw); err != nil {
		http.Error(w, "it is not JSON", http.StatusBadRequest)
		return
	}
	void, err := Check(raw, id)
	if err != nil {
		http.Error(w, err.Error(), http.StatusBadRequest)
		return
	}
	if was, there := s.kept[id]; there {
		var a, b any
		_, _ = json.Unmarshal(was, &a), json.Unmarshal(raw, &b)
		if !reflect.DeepEqual(a, b) {
			http.Error(w, "another statement has this id", http.StatusConflict)
			return
		}
		w.WriteHeader(http.StatusNoContent)
		return
	}
	if s.kept == nil {
		s.kept, s.voided = map[string]json.RawMessage{}, map[string]bool{}
	}
	s.kept[id], s.order = raw, append(s.order, id)
	if void != "" {
		s.voided[void] = true
	}
	w.WriteHeader(http.StatusNoContent)
}

var (
	duration = regexp.MustCompile(`^P(\d+Y)?(\d+M)?(\d+D)?(T(\d+H)?(\d+M)?(\d+(\.\d+)?S)?)?$`)
	language = regexp.MustCompile(`^[a-zA-Z]{2,3}(-[a-zA-Z0-9]+)*$`)
)

// members are those that a statement and its parts may have (xAPI 1.0.3, part two, 2.2 to
// 2.4), of which the stand-in knows what can come.
var members = map[string][]string{
	"":           {"id", "actor", "verb", "object", "result", "context", "timestamp", "stored", "authority", "version", "attachments"},
	"actor":      {"objectType", "name", "mbox", "mbox_sha1sum", "openid", "account"},
	"verb":       {"id", "display"},
	"object":     {"objectType", "id", "definition"},
	"definition": {"name", "description", "type", "moreInfo", "extensions"},
	"result":     {"score", "success", "completion", "response", "duration", "extensions"},
	"score":      {"scaled", "raw", "min", "max"},
	"context":    {"registration", "instructor", "team", "contextActivities", "revision", "platform", "language", "statement", "extensions"},
}

// Check holds a statement against the rules, and gives the id of one that it takes back.
func Check(raw []byte, id string) (voids string, err error) {
	var s map[string]any
	if err := json.Unmarshal(raw, &s); err != nil {
		return "", fmt.Errorf("the statement is no object")
	}
	part := func(in map[string]any, name string) map[string]any {
		m, _ := in[name].(map[string]any)
		return m
	}
	text := func(in map[string]any, name string) string {
		t, _ := in[name].(string)
		return t
	}
	fail := func(where, why string) error { return fmt.Errorf("%s %s", where, why) }
	actor, verb, object := part(s, "actor"), part(s, "verb"), part(s, "object")
	result, context := part(s, "result"), part(s, "context")
	for name, m := range map[string]map[string]any{"": s, "actor": actor, "verb": verb, "object": object, "definition": part(object, "definition"),
		"result": result, "score": part(result, "score"), "context": context} {
		for k, v := range m {
			if !slices.Contains(members[name], k) {
				return "", fail(name+"."+k, "is no member of it")
			}
			if v == nil {
				return "", fail(name+"."+k, "is null")
			}
		}
	}
	if _, err := uuid.Parse(text(s, "id")); err != nil || text(s, "id") != id {
		return "", fail("id", "is no UUID, or not the one of the address")
	}
	account := part(actor, "account")
	if text(actor, "objectType") != "Agent" || !iri(text(account, "homePage")) || text(account, "name") == "" {
		return "", fail("actor", "is no agent with an account")
	}
	if !iri(text(verb, "id")) || !languages(part(verb, "display")) {
		return "", fail("verb", "has no IRI, or display that is no map of languages")
	}
	if _, err := time.Parse(time.RFC3339, text(s, "timestamp")); err != nil {
		return "", fail("timestamp", "is no moment by RFC 3339")
	}
	switch text(object, "objectType") {
	case "StatementRef":
		if _, err := uuid.Parse(text(object, "id")); err != nil {
			return "", fail("object.id", "is no UUID")
		}
		if text(verb, "id") == "http://adlnet.gov/expapi/verbs/voided" {
			voids = text(object, "id")
		}
	case "Activity":
		d := part(object, "definition")
		if !iri(text(object, "id")) || !iri(text(d, "type")) || !languages(part(d, "name")) {
			return "", fail("object", "is no activity with an IRI, a type and a name")
		}
	default:
		return "", fail("object.objectType", "is not known")
	}
	if score := part(result, "score"); score != nil {
		scaled, _ := score["scaled"].(float64)
		raw, _ := score["raw"].(float64)
		low, _ := score["min"].(float64)
		high, _ := score["max"].(float64)
		if scaled < -1 || scaled > 1 || raw < low || raw > high || low >= high {
			return "", fail("result.score", "is out of its range")
		}
	}
	if d := text(result, "duration"); result != nil && (!duration.MatchString(d) || d == "P") {
		return "", fail("result.duration", "is not by ISO 8601")
	}
	if context != nil {
		if _, err := uuid.Parse(text(context, "registration")); err != nil {
			return "", fail("context.registration", "is no UUID")
		}
		for k := range part(context, "extensions") {
			if !iri(k) {
				return "", fail("context.extensions", "has a name that is no IRI")
			}
		}
	}
	return voids, nil
}

func iri(s string) bool {
	u, err := url.Parse(s)
	return err == nil && u.IsAbs()
}

func languages(m map[string]any) bool {
	for k, v := range m {
		if t, ok := v.(string); !ok || t == "" || !language.MatchString(k) {
			return false
		}
	}
	return len(m) > 0
}
