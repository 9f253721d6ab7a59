package roster

import (
	"archive/zip"
	"bytes"
	"encoding/csv"
	"fmt"
	"maps"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// some makes a roster of a school with people in classes.
func some(r *rand.Rand, people int) Roster {
	out := Roster{}.Clone()
	put := func(table, id string, pairs ...string) {
		rec := Record{}
		for i := 0; i < len(pairs); i += 2 {
			if pairs[i+1] != "" {
				rec[pairs[i]] = pairs[i+1]
			}
		}
		out[table][id] = Kept{Record: rec}
	}
	put(Orgs, "org-1", "name", "Ditch school", "type", "school")
	terms := 1 + r.IntN(3)
	for i := range terms {
		put(Terms, fmt.Sprint("t", i), "title", fmt.Sprint("Term ", i), "type", "term", "startDate", "2026-09-01", "endDate", "2027-02-28", "schoolYear", "2027")
	}
	put(Courses, "c1", "title", "Engines", "orgSourcedId", "org-1")
	classes := 1 + r.IntN(4)
	for i := range classes {
		both := fmt.Sprint("t", r.IntN(terms))
		if r.IntN(3) == 0 {
			both += fmt.Sprint(",t", r.IntN(terms))
		}
		put(Classes, fmt.Sprint("k", i), "title", fmt.Sprint("Class, “", i, "”"), "courseSourcedId", "c1", "classType", "scheduled", "schoolSourcedId", "org-1",
			"termSourcedIds", both, "location", []string{"", "Yard; north", "a \"quoted\" place"}[r.IntN(3)])
	}
	for i := range people {
		if r.IntN(5) == 0 {
			continue
		}
		id := fmt.Sprint("u", i)
		role := []string{Student, Student, Student, Teacher, Aide, Administrator}[r.IntN(6)]
		put(Users, id, "enabledUser", "true", "orgSourcedIds", "org-1", "role", role, "username", fmt.Sprint("user", i), "givenName",
			[]string{"Ana", "Élodie", "Bo"}[r.IntN(3)], "familyName", fmt.Sprint("N", r.IntN(9)), "metadata.shoe", []string{"", "42"}[r.IntN(2)])
		put(Enrollments, "e"+id, "classSourcedId", fmt.Sprint("k", r.IntN(classes)), "schoolSourcedId", "org-1", "userSourcedId", id, "role", role)
	}
	return out
}

func here(r Roster) map[string]map[string]Record {
	out := map[string]map[string]Record{}
	for _, t := range Tables {
		out[t.Name] = r.Here(t.Name)
	}
	return out
}

func taken(t *testing.T, now Roster, name string, raw []byte) *Comparison {
	in, bad := Read(name, raw, now)
	require.Empty(t, bad)
	c := Compare(now, in)
	for _, ch := range c.Changes {
		require.Empty(t, ch.Wrong, "%s %s", ch.Table, ch.ID)
	}
	return c
}

// delta writes what takes one roster to another, in OneRoster's delta form.
func delta(t *testing.T, a, b Roster) []byte {
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	for _, table := range Tables {
		head := []string{}
		for _, c := range table.Columns {
			head = append(head, c.Name)
		}
		head = append(head, "metadata.shoe")
		rows := [][]string{head}
		for _, id := range slices.Sorted(maps.Keys(a.Here(table.Name))) {
			if _, stays := b.Here(table.Name)[id]; !stays {
				row := make([]string, len(head))
				row[0], row[1], row[2] = id, "tobedeleted", "2026-11-01T00:00:00.000Z"
				rows = append(rows, row)
			}
		}
		for id, rec := range b.Here(table.Name) {
			if maps.Equal(rec, a.Here(table.Name)[id]) {
				continue
			}
			row := make([]string, len(head))
			for i, h := range head {
				row[i] = rec[h]
			}
			row[0], row[1], row[2] = id, "active", "2026-11-01T00:00:00.000Z"
			rows = append(rows, row)
		}
		if len(rows) == 1 {
			continue
		}
		w, err := z.Create(table.Name + ".csv")
		require.NoError(t, err)
		require.NoError(t, csv.NewWriter(w).WriteAll(rows))
	}
	require.NoError(t, z.Close())
	return out.Bytes()
}

// What is written and read again is the same roster; the delta between two takes one to the
// other as bulk does; and what is taken in twice changes nothing the second time.
func TestRostersGoRoundTheWorld(t *testing.T) {
	for seed := range uint64(40) {
		r := rand.New(rand.NewPCG(seed, 1))
		a, b := some(r, 25), some(r, 25)
		raw, err := Write(b)
		require.NoError(t, err)
		again, err := Write(b)
		require.NoError(t, err)
		assert.Equal(t, raw, again)
		fresh := taken(t, nil, "b.zip", raw)
		assert.Equal(t, here(b), here(fresh.After))
		byBulk := taken(t, a, "b.zip", raw)
		assert.Equal(t, here(b), here(byBulk.After))
		twice := taken(t, byBulk.After, "b.zip", raw)
		assert.Equal(t, map[string]int{Same: len(twice.Changes)}, twice.Counts)
		if raw := delta(t, a, b); len(raw) > 30 {
			assert.Equal(t, byBulk.After, taken(t, a, "delta.zip", raw).After, "seed %d", seed)
		}
		// Who left comes back as they were.
		back, err := Write(a)
		require.NoError(t, err)
		assert.Equal(t, here(a), here(taken(t, byBulk.After, "a.zip", back).After))
	}
}

func TestPlainLists(t *testing.T) {
	list := []byte("\xef\xbb\xbfName;Role;Class;Term\nAna Sol;;Morning;Autumn\nAna Sol;;Evening;Autumn\nBjörn Åkesson;instructor;Morning;Autumn\n" +
		"Cher;;;\nAna  Sol ;;Morning;Autumn\n")
	c := taken(t, nil, "list.csv", bytes.ReplaceAll(list, []byte("Ana  Sol "), []byte("Ana Sol")))
	users := c.After.Here(Users)
	assert.Len(t, users, 3)
	assert.Equal(t, "ana-sol", users["person-ana-sol"]["username"])
	assert.Equal(t, Teacher, users["person-bjorn-akesson"]["role"])
	assert.Len(t, c.After.Here(Classes), 2)
	assert.Len(t, c.After.Here(Enrollments), 3)
	twice := taken(t, c.After, "list.csv", list)
	assert.Zero(t, twice.Counts[Added]+twice.Counts[Changed]+twice.Counts[Leaves], "%v", twice.Counts)
	raw, err := Write(c.After)
	require.NoError(t, err)
	assert.Equal(t, here(c.After), here(taken(t, nil, "out.zip", raw).After), "it goes out in the other form")
	one := taken(t, c.After, "one.csv", []byte("given_name,family_name,class\nDee,Nu,Morning\n"))
	assert.Equal(t, 2, one.Counts[Added], "nobody leaves, and the class is the one that is there: %v", one.Counts)
}

const users = "sourcedId,status,dateLastModified,enabledUser,orgSourcedIds,role,username,userIds,givenName,familyName,middleName,identifier,email,sms," +
	"phone,agentSourcedIds,grades,password\n"

// What is wrong is said with its file, line and column, and nothing else is.
func TestWrongRowsAreSaid(t *testing.T) {
	now := some(rand.New(rand.NewPCG(3, 3)), 4)
	var b strings.Builder
	b.WriteString(users)
	for i := range 10_000 {
		who := fmt.Sprintf("p%d", i)
		if i == 5_000 {
			who = "p4999"
		}
		fmt.Fprintf(&b, "p%d,,,true,org-1,student,%s,,Given,Family%d,,,,,+44 1,,,secret\n", i, who, i)
	}
	in, bad := Read("users.csv", []byte(b.String()), now)
	require.Empty(t, bad)
	c := Compare(now, in)
	assert.False(t, c.OK())
	assert.Equal(t, 1, c.Counts[Wrong])
	i := slices.IndexFunc(c.Changes, func(x Change) bool { return len(x.Wrong) > 0 })
	assert.Equal(t, 5002, c.Changes[i].Line)
	assert.Equal(t, "roster.sign-in-taken", c.Changes[i].Wrong[0].Code)
	for _, k := range c.After[Users] {
		assert.NotContains(t, k.Record, "password")
	}

	for row, code := range map[string]string{
		"x,,,true,org-1,student,ab,,=1+1,B,,,,,,,,":            "roster.formula",
		"x,,,true,org-1,student,ab,,A,,,,,,,,,":                "roster.empty-cell",
		"x,,,perhaps,org-1,student,ab,,A,B,,,,,,,,":            "roster.not-one-of",
		"x,,,true,org-9,student,ab,,A,B,,,,,,,,":               "roster.refers-to-nothing",
		"x,,,true,org-1,king,ab,,A,B,,,,,,,,":                  "roster.not-one-of",
		"x,,,true,org-1,student,a b,,A,B,,,,,,,,":              "roster.bad-sign-in",
		"x y,,,true,org-1,student,ab,,A,B,,,,,,,,":             "roster.bad-id",
		"x,gone,,true,org-1,student,ab,,A,B,,,,,,,,":           "roster.not-one-of",
		"x,,,true,org-1,student,ab,,A,B,,,,,,,,,,,":            "roster.too-many-cells",
		"u1,,,true,org-1,student,user2,,A,B,,,,,,,,\nu1,,,,,,": "roster.twice",
	} {
		in, bad := Read("users.csv", []byte(users+row+"\n"), now)
		require.Empty(t, bad, row)
		in.Full[Users] = false
		var codes []string
		for _, ch := range Compare(now, in).Changes {
			for _, w := range ch.Wrong {
				codes = append(codes, w.Code)
			}
		}
		assert.Contains(t, codes, code, row)
	}
	for raw, code := range map[string]string{
		"":                                   "roster.nothing-in-it",
		"PK\x03\x04 and no more":             "roster.no-zip",
		"sourcedId,status\n1,\n":             "roster.column-missing",
		"name,shoe\nA B,1\n":                 "roster.plain-column",
		"role\nstudent\n":                    "roster.plain-no-name",
		"name\n\"A\n":                        "roster.no-csv",
		"\xff\xfen\x00a\x00m\x00e\x00":       "roster.not-utf8",
		strings.Repeat("name\n", MostRows+5): "roster.too-many-rows",
	} {
		_, bad := Read("f.csv", []byte(raw), now)
		require.NotEmpty(t, bad, "%.40q", raw)
		assert.Equal(t, code, bad[0].Code, "%.40q", raw)
	}
}

// Guardians have no part here and are left out; a class that nobody teaches is said.
func TestWhatIsNoted(t *testing.T) {
	now := some(rand.New(rand.NewPCG(3, 3)), 0)
	in, _ := Read("users.csv", []byte(users+"g,,,true,org-1,guardian,,,A,B,,,,,,,,\ns,,,true,org-1,student,sss,,A,B,,,,,,g,,\n"), now)
	c := Compare(now, in)
	assert.Equal(t, 1, c.Counts[NoPart])
	assert.True(t, c.OK())
	assert.NotContains(t, c.After[Users], "g")
	in, _ = Read("list.csv", []byte("name,class\nA B,New\n"), now)
	c = Compare(now, in)
	i := slices.IndexFunc(c.Changes, func(x Change) bool { return x.Table == Classes })
	assert.Equal(t, "roster.nobody-teaches", c.Changes[i].Notes[0].Code)
}

// Whatever comes in, it is read and compared or refused, and what is taken goes round.
func FuzzRead(f *testing.F) {
	f.Add([]byte("name,class\nA B,New\n"))
	f.Add([]byte(users + "s,,,true,org-1,student,sss,,A,B,,,,,,g,,\n"))
	if raw, err := Write(some(rand.New(rand.NewPCG(1, 1)), 5)); err == nil {
		f.Add(raw)
	}
	now := some(rand.New(rand.NewPCG(9, 9)), 5)
	f.Fuzz(func(t *testing.T, raw []byte) {
		in, bad := Read("f.csv", raw, now)
		if len(bad) > 0 {
			return
		}
		c := Compare(now, in)
		if !c.OK() {
			return
		}
		out, err := Write(c.After)
		require.NoError(t, err)
		in, bad = Read("f.zip", out, nil)
		require.Empty(t, bad)
		again := Compare(nil, in)
		require.True(t, again.OK(), "%+v", again.Changes)
		require.Equal(t, here(c.After), here(again.After))
	})
}
