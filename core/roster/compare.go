package roster

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"maps"
	"slices"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"zanjero/core/problem"
)

// What becomes of a record.
const (
	Added   = "added"
	Changed = "changed"
	Back    = "back" // it had left
	Leaves  = "leaves"
	Same    = "same"
	NoPart  = "no-part" // a guardian, a parent, a relative
	Wrong   = "wrong"
)

// Change is what becomes of one record.
type Change struct {
	Table string `json:"table"`
	ID    string `json:"id"`
	// Title is what a person knows it by.
	Title string `json:"title"`
	// File and Line are where it stood, "" and 0 where it stood nowhere: it is gone from a
	// file that says everything, or goes with something else.
	File string `json:"file,omitempty"`
	Line int    `json:"line,omitempty"`
	Act  string `json:"act"`
	// Columns that change.
	Columns []string `json:"columns,omitempty"`
	// Wrong is why it cannot be; Notes are worth knowing and stop nothing.
	Wrong []problem.Problem `json:"wrong,omitempty"`
	Notes []problem.Problem `json:"notes,omitempty"`
}

// Comparison is what would become of a roster.
type Comparison struct {
	Changes []Change
	// After is the roster as it would be; it is to be taken only where nothing is wrong.
	After Roster
	// Counts of changes by what becomes of them.
	Counts map[string]int
}

// Fingerprint stands for everything that a comparison does.
func (c *Comparison) Fingerprint() string {
	raw, _ := json.Marshal(c.Changes)
	after, _ := json.Marshal(c.After)
	sum := sha256.Sum256(append(raw, after...))
	return hex.EncodeToString(sum[:16])
}

// OK says that nothing is wrong.
func (c *Comparison) OK() bool { return c.Counts[Wrong] == 0 }

// Compare says what would become of a roster if an input were taken in. Neither is changed.
func Compare(now Roster, in *Input) *Comparison {
	c := &comparing{now: now, in: in, wrong: map[string]bool{},
		Comparison: Comparison{After: now.Clone(), Counts: map[string]int{}}}
	for _, t := range Tables {
		c.rows(t)
	}
	c.follow()
	c.people()
	c.notes()
	for i := range c.Changes {
		ch := &c.Changes[i]
		if len(ch.Wrong) > 0 {
			ch.Act = Wrong
		}
		c.Counts[ch.Act]++
	}
	return &c.Comparison
}

type comparing struct {
	Comparison
	now Roster
	in  *Input
	// wrong are the records, as "table id", that are refused: what refers to them is not
	// refused for that as well.
	wrong map[string]bool
}

// rows takes the rows of one table in, and lets go what a full one no longer has.
func (c *comparing) rows(t *Table) {
	seen := map[string]int{}
	for i := range c.in.Rows[t.Name] {
		r := &c.in.Rows[t.Name][i]
		ch := Change{Table: t.Name, ID: r.ID, Title: c.title(t.Name, r.Record), File: r.File, Line: r.Line, Wrong: slices.Clone(r.wrong)}
		before, twice := seen[r.ID]
		seen[r.ID] = r.Line
		switch {
		case twice && !c.in.Plain:
			ch.Wrong = append(ch.Wrong, *problem.New(idColumn, "roster.twice", "id", problem.Show(r.ID), "line", before))
		case twice && maps.Equal(r.Record, c.After[t.Name][r.ID].Record):
			continue // somebody who is in two classes stands on two lines
		case twice:
			ch.Wrong = append(ch.Wrong, *problem.New("name", "roster.twice-otherwise", "line", before))
		}
		if !r.Gone && (t.Name != Users || !slices.Contains(noPart, r.Record["role"])) {
			ch.Wrong = append(ch.Wrong, c.check(t, r)...)
		} else if r.ID == "" {
			ch.Wrong = append(ch.Wrong, *problem.New(idColumn, "roster.empty-cell", "column", idColumn))
		}
		was, known := c.now[t.Name][r.ID]
		switch {
		case t.Name == Users && slices.Contains(noPart, r.Record["role"]) && (!known || was.Left):
			ch.Act = NoPart
		case r.Gone:
			ch.Act = Leaves
			if ch.Title == "" {
				ch.Title = c.title(t.Name, was.Record)
			}
			if !known || was.Left {
				ch.Act = Same
			}
		case !known:
			ch.Act = Added
		case was.Left:
			ch.Act, ch.Columns = Back, apart(was.Record, r.Record)
		default:
			if ch.Columns = apart(was.Record, r.Record); len(ch.Columns) > 0 {
				ch.Act = Changed
			} else {
				ch.Act = Same
			}
		}
		if len(ch.Wrong) == 0 {
			switch ch.Act {
			case Added, Changed, Back:
				c.After[t.Name][r.ID] = Kept{Record: r.Record, Own: c.in.Plain && (was.Own || !known)}
			case Leaves:
				c.After[t.Name][r.ID] = Kept{Record: was.Record, Left: true, Own: was.Own}
			}
		}
		c.wrong[t.Name+" "+r.ID] = len(ch.Wrong) > 0
		c.Changes = append(c.Changes, ch)
	}
	if !c.in.Full[t.Name] || c.in.Plain {
		return
	}
	for _, id := range slices.Sorted(maps.Keys(c.now.Here(t.Name))) {
		if _, there := seen[id]; !there && !c.now[t.Name][id].Own {
			c.leave(t.Name, id)
		}
	}
}

// leave lets a record go that no row says anything of.
func (c *comparing) leave(table, id string) {
	k := c.After[table][id]
	c.After[table][id] = Kept{Record: k.Record, Left: true, Own: k.Own}
	c.Changes = append(c.Changes, Change{Table: table, ID: id, Title: c.title(table, k.Record), Act: Leaves})
}

// title is what a person knows a record by; for an enrolment, who is in what.
func (c *comparing) title(table string, r Record) string {
	if table != Enrollments {
		return Title(table, r)
	}
	who, what := c.After[Users][r["userSourcedId"]].Record, c.After[Classes][r["classSourcedId"]].Record
	return strings.Trim(Title(Users, who)+", "+Title(Classes, what), ", ")
}

// apart are the columns in which two records differ, sorted.
func apart(a, b Record) (out []string) {
	for k := range a {
		if a[k] != b[k] {
			out = append(out, k)
		}
	}
	for k := range b {
		if _, both := a[k]; !both {
			out = append(out, k)
		}
	}
	slices.Sort(out)
	return out
}

// check says what is wrong with a row by itself. What it refers to must be there already,
// for the tables come in the order in which they refer to one another.
func (c *comparing) check(t *Table, r *Row) (bad []problem.Problem) {
	say := func(column, code string, pairs ...any) { bad = append(bad, *problem.New(column, code, pairs...)) }
	for i := range t.Columns {
		col := &t.Columns[i]
		v := r.Record[col.Name]
		if col.kind == id {
			v = r.ID
		}
		switch {
		case col.kind == ignored:
			continue
		case v == "" && col.Needed:
			say(col.Name, "roster.empty-cell", "column", col.Name)
			continue
		case v == "":
			continue
		case utf8.RuneCountInString(v) > mostCell:
			say(col.Name, "roster.long-cell", "column", col.Name, "most", mostCell)
			continue
		case col.kind == text && formula(col.Name, v):
			say(col.Name, "roster.formula", "column", col.Name, "value", problem.Show(v))
			continue
		}
		switch col.kind {
		case id:
			if len(v) > 255 || strings.ContainsFunc(v, func(x rune) bool { return x <= ' ' || x > '~' }) {
				say(col.Name, "roster.bad-id", "value", problem.Show(v))
			}
		case ref, refs:
			for _, one := range split(v) {
				k, there := c.After[col.of][one]
				if (!there || k.Left) && !c.wrong[col.of+" "+one] && !(t.Name == col.of && c.coming(t, one)) {
					say(col.Name, "roster.refers-to-nothing", "column", col.Name, "value", problem.Show(one), "table", col.of)
				}
			}
		case date:
			if !isDate(v) {
				say(col.Name, "roster.no-date", "column", col.Name, "value", problem.Show(v))
			}
		case year:
			if n, err := strconv.Atoi(v); err != nil || n < 1900 || n > 2200 {
				say(col.Name, "roster.no-year", "column", col.Name, "value", problem.Show(v))
			}
		case yesNo:
			if v != "true" && v != "false" {
				say(col.Name, "roster.not-one-of", "value", problem.Show(v), "words", []string{"true", "false"})
			}
		case oneOf:
			if !slices.Contains(col.words, v) {
				say(col.Name, "roster.not-one-of", "value", problem.Show(v), "words", col.words)
			}
		}
	}
	if t.Name == Users {
		if v := strings.ToLower(r.Record["username"]); v != "" && !SignInName(v) {
			say("username", "roster.bad-sign-in", "value", problem.Show(v))
		}
	}
	if a, b := r.Record["startDate"], r.Record["endDate"]; isDate(a) && isDate(b) && b < a {
		say("endDate", "roster.ends-before", "start", a, "end", b)
	}
	return bad
}

// formula says that a spreadsheet would run what a cell says.
func formula(column, v string) bool {
	if column == "phone" || column == "sms" {
		return v[0] == '=' || v[0] == '@'
	}
	return strings.ContainsRune("=+@", rune(v[0])) || (v[0] == '-' && len(v) > 1)
}

// coming says that a record of the same table is in the input.
func (c *comparing) coming(t *Table, id string) bool {
	return slices.ContainsFunc(c.in.Rows[t.Name], func(r Row) bool { return r.ID == id && !r.Gone })
}

// SignInName says that somebody can sign in by a name.
func SignInName(name string) bool {
	return len(name) >= 2 && len(name) <= 80 && !strings.ContainsFunc(name, func(r rune) bool { return r <= ' ' || r == 0x7f })
}

// follow lets everything go that cannot be without what has left, and takes the names of
// what has left out of the rest.
func (c *comparing) follow() {
	for _, t := range Tables {
		for _, id := range slices.Sorted(maps.Keys(c.After.Here(t.Name))) {
			r, stays := c.without(t, c.After[t.Name][id].Record)
			switch was := c.After[t.Name][id].Record; {
			case !stays:
				c.leave(t.Name, id)
			case len(apart(was, r)) > 0:
				c.After[t.Name][id] = Kept{Record: r, Own: c.After[t.Name][id].Own}
				c.Changes = append(c.Changes, Change{Table: t.Name, ID: id, Title: Title(t.Name, r), Act: Changed, Columns: apart(was, r)})
			}
		}
	}
}

// without is a record that names nothing that has left, and whether it can be so.
func (c *comparing) without(t *Table, r Record) (out Record, stays bool) {
	out = r
	for _, col := range t.Columns {
		if v := r[col.Name]; v != "" && (col.kind == ref || col.kind == refs) {
			left := slices.DeleteFunc(split(v), func(one string) bool { return c.After[col.of][one].Left })
			switch {
			case len(left) == len(split(v)):
				continue
			case len(left) == 0 && col.Needed:
				return nil, false
			}
			out = maps.Clone(out)
			if out[col.Name] = strings.Join(left, ","); len(left) == 0 {
				delete(out, col.Name)
			}
		}
	}
	return out, true
}

// people refuses two with one sign-in name.
func (c *comparing) people() {
	by := map[string]string{}
	for _, id := range slices.Sorted(maps.Keys(c.After.Here(Users))) {
		name := strings.ToLower(c.After[Users][id].Record["username"])
		other, taken := by[name]
		if by[name] = id; !taken {
			continue
		}
		i := slices.IndexFunc(c.Changes, func(ch Change) bool { return ch.Table == Users && ch.ID == id && ch.Line > 0 })
		if i < 0 {
			i = slices.IndexFunc(c.Changes, func(ch Change) bool { return ch.Table == Users && ch.ID == other && ch.Line > 0 })
		}
		if i >= 0 {
			c.Changes[i].Wrong = append(c.Changes[i].Wrong, *problem.New("username", "roster.sign-in-taken", "value", problem.Show(name), "other", other))
		}
	}
}

// notes say what is worth knowing: classes that nobody teaches, and two people of one name.
func (c *comparing) notes() {
	taught := map[string]bool{}
	for _, r := range c.After.Here(Enrollments) {
		taught[r["classSourcedId"]] = taught[r["classSourcedId"]] || r["role"] == Teacher
	}
	named := map[string]int{}
	for i := range c.Changes {
		ch := &c.Changes[i]
		if ch.Act == Leaves || ch.Act == NoPart || ch.Line == 0 {
			continue
		}
		if ch.Table == Classes && !taught[ch.ID] {
			ch.Notes = append(ch.Notes, *problem.New("", "roster.nobody-teaches"))
		}
		if ch.Table == Users && ch.Title != "" {
			if before := named[ch.Title]; before > 0 {
				ch.Notes = append(ch.Notes, *problem.New("", "roster.same-name", "line", before))
			}
			named[ch.Title] = ch.Line
		}
	}
}

func split(v string) (out []string) {
	for _, x := range strings.Split(v, ",") {
		if x = strings.TrimSpace(x); x != "" {
			out = append(out, x)
		}
	}
	return out
}

func isDate(v string) bool {
	if len(v) != 10 || v[4] != '-' || v[7] != '-' {
		return false
	}
	y, err1 := strconv.Atoi(v[:4])
	m, err2 := strconv.Atoi(v[5:7])
	d, err3 := strconv.Atoi(v[8:])
	if err1 != nil || err2 != nil || err3 != nil || y < 1900 || m < 1 || m > 12 || d < 1 {
		return false
	}
	days := []int{31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31}[m-1]
	if m == 2 && (y%4 == 0 && y%100 != 0 || y%400 == 0) {
		days++
	}
	return d <= days
}

func validText(s string) bool {
	return utf8.ValidString(s) && !strings.ContainsFunc(s, func(r rune) bool { return unicode.IsControl(r) && r != '\t' && r != '\n' })
}
