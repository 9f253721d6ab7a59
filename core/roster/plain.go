package roster

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"unicode"

	"zanjero/core/problem"
)

// Columns of a plain list. One of name, or given_name with family_name, must be there.
var plainColumns = []string{"name", "given_name", "family_name", "sign_in", "role", "class", "term"}

// plainRoles are the words that a plain list may use, ours and OneRoster's.
var plainRoles = map[string]string{"": Student, "apprentice": Student, "instructor": Teacher, "assessor": Proctor, "coordinator": Administrator,
	Student: Student, Teacher: Teacher, Aide: Aide, Proctor: Proctor, Administrator: Administrator}

// A plain list has one organisation, one course and, unless it names others, one term.
const (
	plainOrg, plainCourse = "yard", "small-engines"
	plainTerm             = "Always"
)

// plain turns a list of people into records. Somebody is known by the sign-in name, or
// where none is given, by the name, so that the same list read twice is the same.
func (in *Input) plain(file string, rows []line, now Roster) *problem.Problem {
	head := make([]string, len(rows[0].cells))
	for i, h := range rows[0].cells {
		head[i] = strings.ReplaceAll(strings.ToLower(h), " ", "_")
		if !slices.Contains(plainColumns, head[i]) {
			return problem.New(file, "roster.plain-column", "column", problem.Show(h), "columns", plainColumns)
		}
	}
	if !slices.Contains(head, "name") && (!slices.Contains(head, "given_name") || !slices.Contains(head, "family_name")) {
		return problem.New(file, "roster.plain-no-name", "columns", plainColumns)
	}
	in.Plain = true
	p := plainList{in: in, file: file, now: now, taken: map[string]string{}, named: map[string]string{}, signIn: map[string]string{},
		made: map[string]bool{}, ids: map[string]string{}}
	for id, u := range now.Here(Users) {
		p.taken[u["username"]], p.signIn[id] = id, u["username"]
		p.named[u["givenName"]+" "+u["familyName"]] = id
	}
	for _, l := range rows[1:] {
		cell := map[string]string{}
		for i, c := range l.cells {
			if i < len(head) {
				cell[head[i]] = c
			}
		}
		p.person(l.at, cell)
	}
	return nil
}

// plainList is a plain list as it is turned into records.
type plainList struct {
	in     *Input
	file   string
	now    Roster
	taken  map[string]string // ids by sign-in name
	named  map[string]string // ids by name
	signIn map[string]string // sign-in names by id
	made   map[string]bool   // "table id" that stand already
	ids    map[string]string // titles in lower case, by the id that was made for them
}

// idFor makes an id for a title, the same for the same.
func (p *plainList) idFor(kind, title string) string {
	title = strings.ToLower(title)
	for n := 1; ; n++ {
		id := kind + slug(title)
		if n > 1 {
			id = fmt.Sprintf("%s-%d", id, n)
		}
		if said, made := p.ids[id]; !made || said == title {
			p.ids[id] = title
			return id
		}
	}
}

func (p *plainList) add(table string, line int, id string, r Record, wrong ...problem.Problem) {
	if key := table + " " + id; !p.made[key] || table == Users {
		p.made[key] = true
		p.in.Rows[table] = append(p.in.Rows[table], Row{File: p.file, Line: line, ID: id, Record: r, wrong: wrong})
	}
}

func (p *plainList) person(line int, cell map[string]string) {
	given, family := cell["given_name"], cell["family_name"]
	if given == "" && family == "" {
		given, family = parted(cell["name"])
	}
	name := given + " " + family
	role, known := plainRoles[strings.ToLower(cell["role"])]
	says := cell["role"] != ""
	var wrong []problem.Problem
	if !known {
		role = Student
		wrong = append(wrong, *problem.New("role", "roster.not-one-of", "value", problem.Show(cell["role"]),
			"words", []string{"apprentice", "instructor", "assessor", "coordinator"}))
	}
	signIn := strings.ToLower(cell["sign_in"])
	id := p.taken[signIn]
	if signIn == "" {
		id = p.named[name]
	}
	old := p.now[Users][id].Record
	if signIn == "" {
		if signIn = p.signIn[id]; signIn == "" {
			signIn = p.free(name)
		}
	}
	if id == "" {
		id = "person-" + signIn
	}
	p.taken[signIn], p.named[name], p.signIn[id] = id, id, signIn
	if old["role"] != "" && !says {
		role = old["role"]
	}
	record := Record{}
	for c, v := range old { // what a plain list does not say stays
		record[c] = v
	}
	p.add(Orgs, line, plainOrg, Record{"name": "Yard", "type": "school"})
	for c, v := range map[string]string{"givenName": given, "familyName": family, "username": signIn, "role": role, "enabledUser": "true"} {
		record[c] = v
	}
	if record["orgSourcedIds"] == "" {
		record["orgSourcedIds"] = plainOrg
	}
	p.add(Users, line, id, record, wrong...)
	if cell["class"] != "" {
		p.member(line, id, role, cell["class"], cmp.Or(cell["term"], plainTerm))
	}
}

// member puts somebody into a class, which is made where there is none of that name.
func (p *plainList) member(line int, person, role, class, term string) {
	classID := known(p.now[Classes], "title", class)
	if classID == "" {
		classID = p.idFor("class-", class)
		p.add(Courses, line, plainCourse, Record{"title": "Small engines", "orgSourcedId": plainOrg})
		p.add(Classes, line, classID, Record{"title": class, "courseSourcedId": plainCourse, "classType": "scheduled", "schoolSourcedId": plainOrg,
			"termSourcedIds": p.term(line, term)})
	}
	school := p.now[Classes][classID].Record["schoolSourcedId"]
	if school == "" {
		school = plainOrg
	}
	p.add(Enrollments, line, fmt.Sprintf("in-%s-%s", classID, person),
		Record{"classSourcedId": classID, "schoolSourcedId": school, "userSourcedId": person, "role": role})
}

// term is the id of a term by its name, which is made where there is none.
func (p *plainList) term(line int, name string) string {
	id := known(p.now[Terms], "title", name)
	if id == "" {
		id = p.idFor("term-", name)
		p.add(Terms, line, id, Record{"title": name, "type": "term", "startDate": "2000-01-01", "endDate": "2099-12-31", "schoolYear": "2099"})
	}
	return id
}

// known is the id of a record by what a column says, "" for none; the first of several by id.
func known(records map[string]Kept, column, says string) (found string) {
	for id, k := range records {
		if !k.Left && strings.EqualFold(k.Record[column], says) && (found == "" || id < found) {
			found = id
		}
	}
	return found
}

// free makes a sign-in name of a name that nobody has.
func (p *plainList) free(name string) string {
	base := slug(name)
	for n := 1; ; n++ {
		try := base
		if n > 1 {
			try = fmt.Sprintf("%s-%d", base, n)
		}
		if p.taken[try] == "" {
			return try
		}
	}
}

// slug writes a name in lower case letters and figures of ASCII, with hyphens between.
func slug(name string) string {
	var b strings.Builder
	for _, r := range strings.ToLower(name) {
		switch {
		case unicode.IsLetter(r) || unicode.IsDigit(r):
			b.WriteString(plainLetter(r))
		case b.Len() > 0 && !strings.HasSuffix(b.String(), "-"):
			b.WriteByte('-')
		}
	}
	if s := strings.Trim(b.String(), "-"); len(s) > 1 {
		return s[:min(len(s), 60)]
	}
	return "person"
}

// plainLetter is a letter without its mark, for those of western Europe; others go by number.
func plainLetter(r rune) string {
	if r < 128 {
		return string(r)
	}
	if i := strings.IndexRune("áàâäãåéèêëíìîïóòôöõúùûüñçýÿ", r); i >= 0 {
		return string("aaaaaaeeeeiiiiooooouuuuncyy"[strings.Count("áàâäãåéèêëíìîïóòôöõúùûüñçýÿ"[:i], "")-1])
	}
	return fmt.Sprintf("u%x", r)
}
