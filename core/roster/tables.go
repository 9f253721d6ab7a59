// Package roster is who a school teaches in what classes, as records of the six tables of
// OneRoster 1.1 that this trade needs: how they are read from CSV and written to it, what is
// wrong with them, and what would change if they were taken in.
//
// The tables, columns and rules are those of 1EdTech's "OneRoster v1.1 CSV tables"; the
// lists of columns are from memory.
package roster

import (
	"maps"
	"slices"
	"strings"
)

// Tables of a roster, in the order in which they refer to one another.
const (
	Orgs        = "orgs"
	Terms       = "academicSessions"
	Courses     = "courses"
	Classes     = "classes"
	Users       = "users"
	Enrollments = "enrollments"
)

// kind is what a column holds.
type kind int

const (
	text kind = iota
	id
	ref     // the id of a record of another table
	refs    // several of them, by commas
	date    // year-month-day
	yesNo   // true or false
	oneOf   // of some words
	year    // four digits
	ignored // status and dateLastModified, which are of the file and not of the record
)

// Column is one of a table.
type Column struct {
	Name   string
	Needed bool
	kind   kind
	of     string   // the table that a ref is to
	words  []string // of oneOf
}

// Table is one of the six.
type Table struct {
	Name    string
	Columns []Column
}

// Columns that every table has.
const (
	idColumn     = "sourcedId"
	statusColumn = "status"
	timeColumn   = "dateLastModified"
	// passwordColumn is read by nobody: passwords are made here, and kept by nobody.
	passwordColumn = "password"
	// ownColumns is what columns begin with that a school adds of its own.
	ownColumns = "metadata."
)

func table(name string, columns ...Column) *Table {
	own := []Column{{Name: idColumn, Needed: true, kind: id}, {Name: statusColumn, kind: ignored}, {Name: timeColumn, kind: ignored}}
	return &Table{name, append(own, columns...)}
}

func free(names ...string) (out []Column) {
	for _, n := range names {
		out = append(out, Column{Name: n})
	}
	return out
}

func needed(name string, k kind, of string, words ...string) Column {
	return Column{Name: name, Needed: true, kind: k, of: of, words: words}
}

func may(name string, k kind, of string) Column { return Column{Name: name, kind: k, of: of} }

// Roles of users and enrollments.
const (
	Student       = "student"
	Teacher       = "teacher"
	Aide          = "aide"
	Proctor       = "proctor"
	Administrator = "administrator"
)

// noPart are roles of people who do nothing here.
var noPart = []string{"guardian", "parent", "relative"}

// Tables lists the six in order. It is not to be changed.
var Tables = []*Table{
	table(Orgs, needed("name", text, ""), needed("type", oneOf, "", "department", "school", "district", "local", "state", "national"),
		Column{Name: "identifier"}, may("parentSourcedId", ref, Orgs)),
	table(Terms, needed("title", text, ""), needed("type", oneOf, "", "gradingPeriod", "semester", "schoolYear", "term"),
		needed("startDate", date, ""), needed("endDate", date, ""), may("parentSourcedId", ref, Terms), needed("schoolYear", year, "")),
	table(Courses, slices.Concat([]Column{may("schoolYearSourcedId", ref, Terms), needed("title", text, "")}, free("courseCode", "grades"),
		[]Column{needed("orgSourcedId", ref, Orgs)}, free("subjects", "subjectCodes"))...),
	table(Classes, slices.Concat([]Column{needed("title", text, "")}, free("grades"), []Column{needed("courseSourcedId", ref, Courses)}, free("classCode"),
		[]Column{needed("classType", oneOf, "", "homeroom", "scheduled")}, free("location"),
		[]Column{needed("schoolSourcedId", ref, Orgs), needed("termSourcedIds", refs, Terms)}, free("subjects", "subjectCodes", "periods"))...),
	table(Users, slices.Concat([]Column{needed("enabledUser", yesNo, ""), needed("orgSourcedIds", refs, Orgs),
		needed("role", oneOf, "", slices.Concat([]string{Student, Teacher, Aide, Proctor, Administrator}, noPart)...), needed("username", text, "")},
		free("userIds"), []Column{needed("givenName", text, ""), needed("familyName", text, "")},
		free("middleName", "identifier", "email", "sms", "phone", "agentSourcedIds", "grades", passwordColumn))...),
	table(Enrollments, needed("classSourcedId", ref, Classes), needed("schoolSourcedId", ref, Orgs), needed("userSourcedId", ref, Users),
		needed("role", oneOf, "", Student, Teacher, Aide, Proctor, Administrator), may("primary", yesNo, ""), may("beginDate", date, ""),
		may("endDate", date, "")),
}

// Named gives a table by name, nil for none.
func Named(name string) *Table {
	if i := slices.IndexFunc(Tables, func(t *Table) bool { return t.Name == name }); i >= 0 {
		return Tables[i]
	}
	return nil
}

// Record is what a row says, by column, without its id and what is of the file alone. An
// empty cell is not there.
type Record map[string]string

// Kept is a record as a roster has it: one that has left stays, to come back. Own is one
// that was made here; no file makes it leave by not naming it.
type Kept struct {
	Record    Record
	Left, Own bool
}

// Roster is records by table and id. A nil one is empty.
type Roster map[string]map[string]Kept

// Clone gives a roster that can be changed without touching the other. Records are shared:
// nobody changes one that is kept.
func (r Roster) Clone() Roster {
	out := Roster{}
	for _, t := range Tables {
		out[t.Name] = map[string]Kept{}
		maps.Copy(out[t.Name], r[t.Name])
	}
	return out
}

// Here gives the records of a table that have not left, by id.
func (r Roster) Here(table string) map[string]Record {
	out := map[string]Record{}
	for id, k := range r[table] {
		if !k.Left {
			out[id] = k.Record
		}
	}
	return out
}

// OwnOrg is the organisation of whoever was added by hand.
func OwnOrg() (id string, r Record) { return plainOrg, Record{"name": "Yard", "type": "school"} }

// Person is a record of somebody who was added by hand, in a role of the roster.
func Person(name, signIn, role string) Record {
	given, family := parted(name)
	return Record{"enabledUser": "true", "orgSourcedIds": plainOrg, "role": role, "username": signIn, "givenName": given, "familyName": family}
}

// parted is a name as given and family name; a single word has a dash for the second.
func parted(name string) (given, family string) {
	words := strings.Fields(name)
	if n := len(words) - 1; n > 0 {
		return strings.Join(words[:n], " "), words[n]
	}
	return strings.TrimSpace(name), "-"
}

// Title is what a person knows a record by.
func Title(table string, r Record) string {
	switch table {
	case Users:
		return strings.TrimSpace(strings.TrimSuffix(r["givenName"]+" "+r["familyName"], " -"))
	case Orgs:
		return r["name"]
	case Enrollments:
		return ""
	}
	return r["title"]
}

// TermsOf names the terms of a class, and gives the first and the last day of all of them.
func (r Roster) TermsOf(class Record) (titles, starts, ends string) {
	var names []string
	for _, id := range split(class["termSourcedIds"]) {
		t := r[Terms][id].Record
		names = append(names, t["title"])
		if starts == "" || t["startDate"] < starts {
			starts = t["startDate"]
		}
		ends = max(ends, t["endDate"])
	}
	return strings.Join(names, ", "), starts, ends
}
