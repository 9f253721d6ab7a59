package main

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"

	"zanjero/internal/password"
	"zanjero/internal/store"
)

// Sizes of what an office is measured with.
const (
	rosterPeople = 5000
	analysedJobs = 20
	analysed     = 30
)

// office measures a roster that is taken in, and a class that is analysed.
func office() ([]row, error) {
	y, err := openYard(analysed)
	if err != nil {
		return nil, err
	}
	defer y.stop()
	roster, err := y.roster()
	if err != nil {
		return nil, err
	}
	class, n, err := y.class()
	if err != nil {
		return nil, err
	}
	var took time.Duration
	const times = 3
	for range times {
		code, raw, d, err := y.send(y.bosses[0], "GET", "/api/classes/"+class+"/analysis", nil)
		if err != nil || code != 200 {
			return nil, fmt.Errorf("the analysis answered %d %.200s: %w", code, raw, err)
		}
		took += d / times
	}
	return []row{
		{fmt.Sprintf("a roster of %d compared and taken in", rosterPeople), roster.Seconds(), "s", "≤ 10", ""},
		{fmt.Sprintf("a class of %d with %d jobs each analysed", analysed, analysedJobs), took.Seconds(), "s", "≤ 1", fmt.Sprintf("%d attempts", n)},
	}, nil
}

// roster takes a plain list in, as it is done by hand: compared, then taken.
func (y *yardOf) roster() (time.Duration, error) {
	hash := (password.Cost{MemoryKiB: 64, Passes: 1}).Hash("x")
	err := y.store.AddPerson(context.Background(), &store.Person{ID: uuid.New(), Name: "coo", DisplayName: "Coo", Role: store.Coordinator, PasswordHash: hash,
		SessionEpoch: 1})
	if err != nil {
		return 0, err
	}
	c, err := signIn(y.url, "coo")
	if err != nil {
		return 0, err
	}
	var list strings.Builder
	list.WriteString("name,sign_in,class\n")
	for i := range rosterPeople {
		fmt.Fprintf(&list, "Given%d Family%d,p%d,Class %d\n", i, i, i, i/25)
	}
	body := map[string]any{"name": "list.csv", "file": []byte(list.String())}
	code, raw, first, err := y.send(c, "POST", "/api/roster/comparison", body)
	if err != nil || code != 200 {
		return 0, fmt.Errorf("the comparison answered %d %.200s: %w", code, raw, err)
	}
	var said struct{ Fingerprint string }
	if err := json.Unmarshal(raw, &said); err != nil {
		return 0, err
	}
	body["fingerprint"] = said.Fingerprint
	code, raw, second, err := y.send(c, "POST", "/api/roster", body)
	if err != nil || code != 200 || !bytes.Contains(raw, []byte(`"counts"`)) {
		return 0, fmt.Errorf("the roster answered %d %.200s: %w", code, raw, err)
	}
	return first + second, nil
}

// class makes a class of the yard's people with marked attempts, all with the assessment of
// one that was handed over.
func (y *yardOf) class() (id string, attempts int, err error) {
	k := 0
	for _, e := range longDay() {
		if _, err := y.act(0, k, e); err == nil {
			k++
		}
	}
	path := "/api/attempts/" + y.attempts[0].String()
	if code, raw, _, err := y.send(y.clients[0], "POST", path+"/hand-over", handed); err != nil || code != 202 {
		return "", 0, fmt.Errorf("the hand-over answered %d %.200s: %w", code, raw, err)
	}
	for code := 0; code != 200; time.Sleep(100 * time.Millisecond) {
		var raw []byte
		if code, raw, _, err = y.send(y.clients[0], "GET", path+"/debrief", nil); err != nil || code >= 400 {
			return "", 0, fmt.Errorf("the debrief answered %d %.200s: %w", code, raw, err)
		}
		if code == 200 && !bytes.Contains(raw, []byte(`"assessment"`)) {
			code = 0
		}
	}
	code, raw, _, err := y.send(y.bosses[0], "POST", "/api/classes", map[string]any{"title": "C", "term": "T", "members": []any{}})
	if err != nil || code != 201 {
		return "", 0, fmt.Errorf("the class answered %d %.200s: %w", code, raw, err)
	}
	var class struct{ ID string }
	if err := json.Unmarshal(raw, &class); err != nil {
		return "", 0, err
	}
	_, err = y.store.SQL().Exec(`WITH one AS (SELECT a.*, j.machine_id, j.set_by, j.scenario FROM attempts a JOIN jobs j ON j.id = a.job_id WHERE a.id = $1),
		given AS (INSERT INTO jobs (id, number, machine_id, set_by, scenario, class_id)
			SELECT gen_random_uuid(), 100 + n, machine_id, set_by, scenario, $2 FROM one, generate_series(1, $3::integer) n RETURNING id)
		INSERT INTO attempts (id, job_id, apprentice_id, seed, model_version, state, minutes, assessment, outcome, handed_at)
			SELECT gen_random_uuid(), given.id, p.id, one.seed, one.model_version, one.state, one.minutes, one.assessment, one.outcome, now()
			FROM one, given, people p WHERE p.name ~ '^a[0-9]{3}$'`, y.attempts[0], class.ID, analysedJobs)
	if err != nil {
		return "", 0, err
	}
	err = y.store.SQL().QueryRow("SELECT count(*) FROM attempts a JOIN jobs j ON j.id = a.job_id WHERE j.class_id = $1", class.ID).Scan(&attempts)
	return class.ID, attempts, err
}
