package httpapi_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"log/slog"
	"maps"
	"net/http/httptest"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/record"
	"zanjero/core/roster"
	"zanjero/internal/httpapi"
	"zanjero/internal/lrs"
	"zanjero/internal/store"
)

func everyone(t *testing.T, u *user) map[string]httpapi.PersonLine {
	code, raw := u.get("/api/people")
	require.Equal(t, 200, code, string(raw))
	out := map[string]httpapi.PersonLine{}
	for _, p := range decode[[]httpapi.PersonLine](t, raw) {
		out[p.DisplayName] = p
	}
	return out
}

// take shows a file and takes it in.
func take(t *testing.T, u *user, name string, file []byte) (httpapi.RosterComparison, string) {
	body := map[string]any{"name": name, "file": file}
	code, raw := u.call("POST", "/api/roster/comparison", body)
	require.Equal(t, 200, code, string(raw))
	c := decode[httpapi.RosterComparison](t, raw)
	body["fingerprint"] = c.Fingerprint
	code, raw = u.call("POST", "/api/roster", body)
	if c.Ok {
		require.Equal(t, 200, code, string(raw))
	}
	return c, string(raw)
}

// A roster comes in as it was shown, all of it or nothing; who leaves cannot sign in and
// comes back as they were; and what goes out comes in as the same.
func TestRosterInAndOut(t *testing.T) {
	t.Parallel()
	s := open(t)
	coo := s.person("coo", store.Coordinator)
	list := "Name;Role;Class\n"
	for i := range 60 {
		list += fmt.Sprintf("Pupil N%02d;;Morning\n", i)
	}
	list += "Tess Atwell;instructor;Morning\n"
	wrong := strings.Replace(list, "Pupil N30;;", "Pupil N30;king;", 1)
	c, said := take(t, coo, "list.csv", []byte(wrong))
	assert.False(t, c.Ok)
	assert.Equal(t, 1, c.Counts["wrong"])
	assert.Equal(t, 32, c.Rows[0].Line)
	assert.Contains(t, said, "roster.rows-are-wrong")
	assert.NotContains(t, everyone(t, coo), "Pupil N00", "nothing is half done")

	_, said = take(t, coo, "list.csv", []byte(list))
	assert.Contains(t, said, `{"counts":{"added":`)
	assert.Contains(t, said, `{"done":0.5}`)
	all := everyone(t, coo)
	assert.Equal(t, httpapi.PersonLineRole("instructor"), all["Tess Atwell"].Role)
	assert.Equal(t, httpapi.PersonLineSignsInNever, all["Pupil N00"].SignsIn)
	assert.Len(t, all["Pupil N00"].Classes, 1)
	_, raw := coo.get("/api/classes")
	classes := decode[[]httpapi.Class](t, raw)
	require.Len(t, classes, 1)
	assert.Len(t, classes[0].Members, 61)

	// Something changed between the comparison and the word.
	body := map[string]any{"name": "l.csv", "file": []byte("name\nNew One\n")}
	_, raw = coo.call("POST", "/api/roster/comparison", body)
	body["fingerprint"] = decode[httpapi.RosterComparison](t, raw).Fingerprint
	code, raw := coo.call("POST", "/api/people", map[string]any{"display_name": "New One", "name": "", "role": "apprentice", "here": true})
	require.Equal(t, 201, code, string(raw))
	code, raw = coo.call("POST", "/api/roster", body)
	assert.Equal(t, 409, code)
	assert.Contains(t, string(raw), "roster.not-what-was-shown")

	code, out := coo.get("/api/roster")
	require.Equal(t, 200, code)
	same, _ := take(t, coo, "roster.zip", out)
	assert.Equal(t, map[string]int{"same": same.Counts["same"]}, same.Counts)

	// A full file without somebody: they leave, and those who were added here stay.
	in, bad := roster.Read("roster.zip", out, nil)
	require.Empty(t, bad)
	r := roster.Compare(nil, in).After
	for id, k := range r[roster.Users] {
		if slices.Contains([]string{"pupil-n07", "new-one"}, k.Record["username"]) {
			delete(r[roster.Users], id)
			for e, x := range r[roster.Enrollments] {
				if x.Record["userSourcedId"] == id {
					delete(r[roster.Enrollments], e)
				}
			}
		}
	}
	fewer, err := roster.Write(r)
	require.NoError(t, err)
	gone, _ := take(t, coo, "roster.zip", fewer)
	assert.Zero(t, gone.Counts["leaves"], "a list makes people of one's own, whom no file takes away")
}

// Nobody who came by a list has a password: a sheet makes one, it is shown once, and with it
// nothing can be done but choose another.
func TestSheetsAndFirstSignIn(t *testing.T) {
	t.Parallel()
	s := open(t)
	coo, inst := s.person("coo", store.Coordinator), s.as("inst")
	take(t, coo, "list.csv", []byte("name,role\nPia Nu,\nTess Atwell,instructor\n"))
	pia := everyone(t, coo)["Pia Nu"].Id
	tess := everyone(t, coo)["Tess Atwell"].Id
	u := s.anyone()
	code, _ := u.call("POST", "/api/session", map[string]any{"name": "pia-nu", "password": ""})
	assert.NotEqual(t, 200, code)

	code, raw := inst.call("POST", "/api/sign-in-sheets", map[string]any{"people": []any{tess}})
	assert.Equal(t, 403, code, "an instructor gives none to another: %s", raw)
	code, raw = inst.call("POST", "/api/sign-in-sheets", map[string]any{"people": []any{pia}})
	require.Equal(t, 200, code, string(raw))
	sheet := decode[[]httpapi.Sheet](t, raw)[0]
	assert.Regexp(t, `^[a-z2-9]{5}-[a-z2-9]{5}-[a-z2-9]{5}$`, sheet.Password)
	code, raw = u.call("POST", "/api/session", map[string]any{"name": "pia-nu", "password": sheet.Password})
	require.Equal(t, 200, code, string(raw))
	assert.True(t, *decode[httpapi.Person](t, raw).MustChange)
	code, raw = u.get("/api/attempts")
	assert.Equal(t, 403, code)
	assert.Contains(t, string(raw), "http.change-password-first")
	change := func(old, new string) (int, string) {
		code, raw := u.call("PUT", "/api/me/password", map[string]any{"old": old, "new": new})
		return code, string(raw)
	}
	for _, x := range [][3]string{{"wrong", "a new and long one", "http.old-password-wrong"}, {sheet.Password, "short", "person.short-password"},
		{sheet.Password, sheet.Password, "http.password-as-before"}, {sheet.Password, "pia-nu-pia-nu", "http.password-as-before"}} {
		code, said := change(x[0], x[1])
		assert.Equal(t, 422, code)
		assert.Contains(t, said, x[2])
	}
	code, said := change(sheet.Password, "three ditches at dawn")
	require.Equal(t, 200, code, said)
	code, _ = u.get("/api/attempts")
	assert.Equal(t, 200, code, "the session goes on")
	code, raw = coo.call("POST", "/api/sign-in-sheets", map[string]any{"people": []any{pia}})
	assert.Equal(t, 409, code, "who has their own keeps it: %s", raw)

	// Let go, nothing of theirs counts; let in again, it does.
	edit := map[string]any{"display_name": "Pia Nu", "name": "pia-nu", "role": "apprentice", "here": false}
	code, raw = inst.call("PUT", "/api/people/"+pia.String(), edit)
	require.Equal(t, 200, code, string(raw))
	code, _ = u.get("/api/attempts")
	assert.Equal(t, 401, code)
	edit["here"] = true
	code, raw = inst.call("PUT", "/api/people/"+pia.String(), edit)
	require.Equal(t, 200, code, string(raw))
	code, _ = u.call("POST", "/api/session", map[string]any{"name": "pia-nu", "password": "three ditches at dawn"})
	assert.Equal(t, 200, code)
	for _, e := range []map[string]any{{"display_name": "Tess", "name": "tess", "role": "apprentice", "here": true},
		{"display_name": "Pia", "name": "pia", "role": "instructor", "here": true}} {
		id := pia
		if e["name"] == "tess" {
			id = tess
		}
		code, _ = inst.call("PUT", "/api/people/"+id.String(), e)
		assert.Equal(t, 403, code)
	}
}

// Classes by hand: made, filled, emptied, put away; the roster that goes out has them.
func TestClassesByHand(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, coo := s.as("inst"), s.person("coo", store.Coordinator)
	ann, bob := everyone(t, coo)["Ann"], everyone(t, coo)["Bob"]
	body := map[string]any{"title": "Evening", "term": "Autumn 2026", "starts": "2026-09-01", "ends": "2027-01-31", "members": []any{ann.Id, bob.Id}}
	code, raw := inst.call("POST", "/api/classes", body)
	require.Equal(t, 201, code, string(raw))
	c := decode[httpapi.Class](t, raw)
	assert.Len(t, c.Members, 2)
	assert.Equal(t, "Autumn 2026", c.Term)
	body["members"], body["title"] = []any{bob.Id}, "Late evening"
	code, raw = inst.call("PUT", "/api/classes/"+c.Id.String(), body)
	require.Equal(t, 200, code, string(raw))
	assert.Len(t, decode[httpapi.Class](t, raw).Members, 1)
	_, out := coo.get("/api/roster")
	assert.True(t, bytes.HasPrefix(out, []byte("PK")))
	in, bad := roster.Read("r.zip", out, nil)
	require.Empty(t, bad)
	assert.True(t, roster.Compare(nil, in).OK())
	bad2 := map[string]any{"title": "X", "term": "T", "starts": "2026-09-01", "ends": "2026-01-31", "members": []any{}}
	code, raw = inst.call("POST", "/api/classes", bad2)
	assert.Equal(t, 422, code)
	assert.Contains(t, string(raw), "roster.ends-before")
	body["held"] = false
	code, raw = inst.call("PUT", "/api/classes/"+c.Id.String(), body)
	require.Equal(t, 200, code, string(raw))
	_, raw = inst.get("/api/classes")
	assert.Empty(t, decode[[]json.RawMessage](t, raw))
}

// What is given to a class in one act is one column, whatever was dealt, and says how far
// each has come.
func TestProgressOfAClass(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann := s.as("inst"), s.as("ann")
	all := everyone(t, inst)
	code, raw := inst.call("POST", "/api/classes", map[string]any{"title": "C", "term": "T", "members": []any{all["Ann"].Id, all["Bob"].Id}})
	require.Equal(t, 201, code, string(raw))
	class := decode[httpapi.Class](t, raw).Id
	giving := uuid.New()
	a := s.jobWith(inst, "main-jet-blocked", 0.7, "ann", map[string]any{"class_id": class, "giving": giving, "id": giving})
	b := s.jobWith(inst, "coil-secondary-open", 1, "bob", map[string]any{"class_id": class, "giving": giving})
	s.jobWith(inst, "main-jet-blocked", 0.7, "ann", map[string]any{"class_id": class, "closes_at": time.Now().Add(-time.Hour)})
	ann.do(a, ann.bench(a).Seq, map[string]any{"kind": "wait", "minutes": 1})
	look := func() (httpapi.Progress, map[string]httpapi.Stands) {
		code, raw := inst.get("/api/classes/" + class.String() + "/progress")
		require.Equal(t, 200, code, string(raw))
		p := decode[httpapi.Progress](t, raw)
		out := map[string]httpapi.Stands{}
		for _, c := range p.Cells {
			out[c.Attempt.String()] = c.Stands
		}
		return p, out
	}
	p, now := look()
	require.Len(t, p.Givings, 2)
	assert.Equal(t, 2, p.Givings[1].Variants)
	assert.Equal(t, httpapi.StandsAtWork, now[a])
	assert.Equal(t, httpapi.StandsNotBegun, now[b])
	assert.Contains(t, slices.Collect(maps.Values(now)), httpapi.StandsMissed)
	hand := map[string]any{"findings": []any{}, "verdict": "refer-on", "proof_seq": -1}
	code, raw = ann.call("POST", "/api/attempts/"+a+"/hand-over", hand)
	require.Equal(t, 202, code, string(raw))
	require.Eventually(t, func() bool { _, now := look(); return now[a] == httpapi.StandsToReview }, patience, 50*time.Millisecond)
	code, raw = inst.get("/api/classes/" + class.String() + "/analysis")
	require.Equal(t, 200, code, string(raw))
	together := decode[httpapi.ClassAnalysis](t, raw).Analysis
	assert.Equal(t, 1, together.Attempts)
	require.Len(t, together.Confused, 1)
	assert.Equal(t, "jets", together.Confused[0].True)
	code, raw = inst.call("POST", "/api/jobs", map[string]any{"machine_id": inst.firstMachine().Id, "class_id": uuid.New(), "words": "It coughs.",
		"claim": "no-start", "faults": []any{map[string]any{"id": "coil-secondary-open", "severity": 1}}, "limit_minutes": 60, "limit_money": 40})
	assert.Equal(t, 422, code)
	assert.Contains(t, string(raw), "http.no-such-class")
}

// What somebody has shown has the attempts behind it; what is held back from its apprentice
// is not in theirs, another's is not there, and a standard's lines follow.
func TestRecordAndStandard(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann, bob := s.as("inst"), s.as("ann"), s.as("bob")
	id := everyone(t, inst)["Ann"].Id.String()
	look := func(u *user) httpapi.PersonRecord {
		code, raw := u.get("/api/people/" + id + "/record")
		require.Equal(t, 200, code, string(raw))
		return decode[httpapi.PersonRecord](t, raw)
	}
	assert.Empty(t, look(ann).Record.Squares)
	a := s.finished(inst, ann)
	code, raw := inst.call("POST", "/api/attempts/"+a+"/review", map[string]any{"after": 0, "kind": "comment", "text": "Well read."})
	require.Equal(t, 200, code, string(raw))
	r := look(ann).Record
	require.Len(t, r.Attempts, 1)
	assert.Equal(t, []string{"Well read."}, r.Attempts[0].Comments)
	assert.NotEmpty(t, r.Squares)
	assert.Equal(t, a, r.Squares[0].Evidence[0].Attempt)

	body := map[string]any{"title": "Trade paper", "changes": 0, "lines": []any{map[string]any{"code": "E1", "text": "Safe at it",
		"ties": []any{map[string]any{"skill": "safety"}}}}}
	code, raw = inst.call("PUT", "/api/standard", body)
	require.Equal(t, 200, code, string(raw))
	code, raw = inst.call("PUT", "/api/standard", body)
	assert.Equal(t, 409, code, string(raw))
	seen := look(ann)
	assert.Equal(t, "Trade paper", seen.Standard)
	assert.Equal(t, 4, seen.Stands[0].Of)
	code, raw = inst.call("POST", "/api/standard/lines", map[string]any{"file": []byte("code,text,skills\nE1,x,singing\n")})
	assert.Equal(t, 422, code)
	assert.Contains(t, string(raw), "record.no-skill")

	code, _ = bob.get("/api/people/" + id + "/record")
	assert.Equal(t, 404, code)
	code, raw = ann.get("/api/people/" + id + "/record.csv")
	assert.Equal(t, 200, code)
	assert.Contains(t, string(raw), "square,")

	held := s.jobWith(inst, "main-jet-blocked", 0.7, "ann", map[string]any{"debrief_at": time.Now().Add(time.Hour)})
	hand := map[string]any{"findings": []any{}, "verdict": "refer-on", "proof_seq": -1}
	code, raw = ann.call("POST", "/api/attempts/"+held+"/hand-over", hand)
	require.Equal(t, 202, code, string(raw))
	require.Eventually(t, func() bool { return len(look(inst).Record.Attempts) == 2 }, patience, 50*time.Millisecond)
	assert.Len(t, look(ann).Record.Attempts, 1, "it would tell before it is released")
}

// A record store is told how an attempt stands, once each, again when a person changes that,
// and not before its debrief is released; it may be down for a while.
func TestRecordStoreIsTold(t *testing.T) {
	t.Parallel()
	s := open(t)
	store := &lrs.StandIn{Key: "k", Secret: "s"}
	at := httptest.NewServer(store)
	defer at.Close()
	store.Fail(2)
	s.serveWith(httpapi.Options{Loopback: true, Home: "https://yard.example", Records: lrs.Store{URL: at.URL, Key: "k", Secret: "s"},
		TellEvery: 20 * time.Millisecond})
	inst, ann := s.as("inst"), s.as("ann")
	a := s.finished(inst, ann)
	require.Eventually(t, func() bool { return len(store.Statements()) == 1 }, patience, 20*time.Millisecond)
	var first, last record.Statement
	require.NoError(t, json.Unmarshal(store.Statements()[0], &first))
	other := map[bool]string{true: "not-yet", false: "competent"}[first.Result.Success]
	code, raw := inst.call("POST", "/api/attempts/"+a+"/review", map[string]any{"after": 0, "kind": "outcome", "outcome": other, "text": "I saw it."})
	require.Equal(t, 200, code, string(raw))
	require.Eventually(t, func() bool { return len(store.Statements()) == 3 }, patience, 20*time.Millisecond)
	require.NoError(t, json.Unmarshal(store.Statements()[1], &last))
	assert.True(t, store.Voided(first.ID), "what held before is taken back")
	assert.NotEqual(t, first.Result.Success, last.Result.Success)
	assert.Equal(t, "https://yard.example", last.Actor.Account.HomePage)
	_, raw = inst.get("/api/people/" + last.Actor.Account.Name + "/statements")
	assert.Contains(t, string(raw), last.ID, "the file says the same")
	require.Eventually(t, func() bool {
		_, raw := inst.get("/api/record-store")
		x := decode[httpapi.RecordStore](t, raw)
		return x.Told == 1 && x.Waiting == 0
	}, patience, 20*time.Millisecond)
	assert.Len(t, store.Statements(), 3)
}

// What is done to others is kept and cannot be changed; one's own is not, and who is refused
// leaves nothing.
func TestAudit(t *testing.T) {
	t.Parallel()
	s := open(t)
	coo, inst, ann := s.person("coo", store.Coordinator), s.as("inst"), s.as("ann")
	id := everyone(t, inst)["Ann"].Id.String()
	for _, u := range []*user{inst, ann} {
		code, _ := u.get("/api/people/" + id + "/record")
		require.Equal(t, 200, code)
	}
	code, _ := inst.call("PUT", "/api/people/"+id, map[string]any{"display_name": "=Ann", "name": "ann", "role": "king", "here": true})
	assert.NotEqual(t, 200, code)
	code, raw := inst.call("PUT", "/api/people/"+id, map[string]any{"display_name": "Anna", "name": "ann", "role": "apprentice", "here": true})
	require.Equal(t, 200, code, string(raw))
	_, raw = coo.get("/api/audit")
	lines := decode[[]httpapi.AuditLine](t, raw)
	require.Len(t, lines, 2, string(raw))
	assert.Equal(t, []string{"person-changed", "I", "Anna"}, []string{lines[0].Act, lines[0].By, lines[0].About})
	assert.Equal(t, "record-seen", lines[1].Act)
	code, raw = coo.get("/api/audit.csv")
	assert.Equal(t, 200, code)
	assert.Contains(t, string(raw), "record-seen,Anna")
	_, err := s.store.SQL().Exec("UPDATE audit SET act = 'nothing'")
	assert.ErrorContains(t, err, "never changes")
}

// lockedBuffer is a buffer that several may write to.
type lockedBuffer struct {
	mu sync.Mutex
	b  bytes.Buffer
}

func (l *lockedBuffer) Write(p []byte) (int, error) {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.b.Write(p)
}

func (l *lockedBuffer) String() string {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.b.String()
}

// Who is erased leaves no name in any table and none in the log; their attempts stay. What
// was kept of them can be saved before, without what is hidden in a machine.
func TestErasureLeavesNoName(t *testing.T) {
	t.Parallel()
	var log lockedBuffer
	was := slog.Default()
	slog.SetDefault(slog.New(slog.NewTextHandler(&log, &slog.HandlerOptions{Level: slog.LevelDebug})))
	t.Cleanup(func() { slog.SetDefault(was) })
	s := open(t)
	coo, inst := s.person("coo", store.Coordinator), s.as("inst")
	take(t, coo, "list.csv", []byte("name,sign_in,class\nZebulon Quarkly,zquark,Morning\n"))
	who := everyone(t, coo)["Zebulon Quarkly"].Id.String()
	_, raw := coo.call("POST", "/api/sign-in-sheets", map[string]any{"people": []any{who}})
	sheet := decode[[]httpapi.Sheet](t, raw)[0]
	u := s.anyone()
	code, _ := u.call("POST", "/api/session", map[string]any{"name": "zquark", "password": "wrong"})
	require.Equal(t, 401, code)
	code, _ = u.call("POST", "/api/session", map[string]any{"name": "zquark", "password": sheet.Password})
	require.Equal(t, 200, code)
	code, _ = u.call("PUT", "/api/me/password", map[string]any{"old": sheet.Password, "new": "three ditches at dawn"})
	require.Equal(t, 200, code)
	a := s.jobWith(inst, "main-jet-blocked", 0.7, "zquark", nil)
	code, raw = inst.call("POST", "/api/attempts/"+a+"/hints", map[string]any{"id": uuid.New(), "words": "Zebulon, read it again."})
	require.Equal(t, 200, code, string(raw))
	hand := map[string]any{"findings": []any{}, "verdict": "refer-on", "proof_seq": -1, "note": "Zebulon Quarkly was here."}
	code, raw = u.call("POST", "/api/attempts/"+a+"/hand-over", hand)
	require.Equal(t, 202, code, string(raw))
	require.Eventually(t, func() bool {
		code, raw := u.get("/api/attempts/" + a + "/debrief")
		return code == 200 && bytes.Contains(raw, []byte(`"assessment"`))
	},
		patience, 50*time.Millisecond)
	code, raw = inst.call("POST", "/api/attempts/"+a+"/review", map[string]any{"after": 0, "kind": "comment", "text": "Well done, Zebulon."})
	require.Equal(t, 200, code, string(raw))
	s.jobWith(inst, "coil-secondary-open", 1, "zquark", nil)
	code, _ = u.call("POST", "/api/session", map[string]any{"name": "zquark", "password": "wrong again"})
	require.Equal(t, 401, code)

	code, raw = u.get("/api/people/" + who + "/data")
	require.Equal(t, 200, code, string(raw))
	assert.Contains(t, string(raw), "Well done, Zebulon.")
	assert.Contains(t, string(raw), "Zebulon, read it again.")
	for _, x := range decode[struct{ Attempts []json.RawMessage }](t, raw).Attempts {
		if bytes.Contains(x, []byte(`"state":"new"`)) {
			assert.NotContains(t, string(x), "coil-secondary-open", "what is hidden in an open job is not the person's")
		}
	}
	code, _ = inst.get("/api/people/" + who + "/data")
	assert.Equal(t, 404, code)

	code, raw = coo.call("POST", "/api/people/"+who+"/erasure", map[string]any{"name": "zquarq"})
	assert.Equal(t, 422, code)
	assert.Contains(t, string(raw), "http.other-name")
	code, raw = coo.call("POST", "/api/people/"+who+"/erasure", map[string]any{"name": "zquark"})
	require.Equal(t, 204, code, string(raw))
	code, _ = u.get("/api/attempts")
	assert.Equal(t, 401, code)

	rows, err := s.store.SQL().Query("SELECT table_name FROM information_schema.tables WHERE table_schema = 'public' AND table_type = 'BASE TABLE'")
	require.NoError(t, err)
	var tables []string
	for rows.Next() {
		var name string
		require.NoError(t, rows.Scan(&name))
		tables = append(tables, name)
	}
	require.NoError(t, rows.Err())
	require.Greater(t, len(tables), 15)
	for _, table := range tables {
		for _, name := range []string{"Zebulon", "Quarkly", "zquark"} {
			var n int
			require.NoError(t, s.store.SQL().QueryRow(`SELECT count(*) FROM "`+table+`" t WHERE position(lower($1) in lower(t::text)) > 0`, name).Scan(&n))
			assert.Zero(t, n, "%s in %s", name, table)
		}
	}
	for _, name := range []string{"Zebulon", "Quarkly", "zquark"} {
		assert.NotContains(t, log.String(), name)
	}
	code, raw = inst.get("/api/attempts/" + a + "/debrief")
	assert.Equal(t, 200, code, "the attempt stays")
	assert.Contains(t, string(raw), store.Erased)
}
