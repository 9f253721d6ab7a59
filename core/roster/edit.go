package roster

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
)

// ByHand is somebody as they are to be, by a person's hand.
type ByHand struct {
	ID string
	// Name as others see it, SignIn as they sign in; one is made of the other where it is empty.
	Name, SignIn string
	Role         string // of a roster
	Here         bool
}

// EditPerson is the input that makes somebody so. What the roster says of them besides
// stays.
func EditPerson(now Roster, p ByHand) *Input {
	old := now[Users][p.ID].Record
	if p.SignIn == "" {
		l := plainList{taken: map[string]string{}}
		for id, u := range now.Here(Users) {
			l.taken[u["username"]] = id
		}
		p.SignIn = l.free(p.Name)
	}
	record := Record{}
	maps.Copy(record, old)
	maps.Copy(record, Person(p.Name, p.SignIn, p.Role))
	if org := old["orgSourcedIds"]; org != "" {
		record["orgSourcedIds"] = org
	}
	if Title(Users, old) == p.Name { // not parted anew where it is the same
		record["givenName"], record["familyName"] = old["givenName"], old["familyName"]
	}
	return Edit(map[string][]Row{Orgs: ownOrg(now), Users: {{ID: p.ID, Record: record, Gone: !p.Here}}})
}

// ClassByHand is a class as it is to be, by a person's hand.
type ClassByHand struct {
	ID, Title string
	// Term is its name; one that is not there is made, from Starts to Ends.
	Term, Starts, Ends string
	Members            []string // ids of people
	Held               bool
}

// EditClass is the input that makes a class so.
func EditClass(now Roster, c ClassByHand) *Input {
	rows := map[string][]Row{Orgs: ownOrg(now)}
	old := now[Classes][c.ID].Record
	term := old["termSourcedIds"]
	if titles, _, _ := now.TermsOf(old); titles != c.Term || term == "" {
		if term = known(now[Terms], "title", c.Term); term == "" {
			term = fmt.Sprintf("term-%s-%s", slug(c.Term), c.ID)
			rows[Terms] = []Row{{ID: term, Record: Record{"title": c.Term, "type": "term", "startDate": c.Starts, "endDate": c.Ends,
				"schoolYear": c.Ends[:min(4, len(c.Ends))]}}}
		}
	}
	record := Record{"classType": "scheduled", "courseSourcedId": plainCourse, "schoolSourcedId": plainOrg}
	maps.Copy(record, old)
	record["title"], record["termSourcedIds"] = c.Title, term
	if record["courseSourcedId"] == plainCourse {
		rows[Courses] = []Row{{ID: plainCourse, Record: orElse(now[Courses][plainCourse].Record, Record{"title": "Small engines", "orgSourcedId": plainOrg})}}
	}
	rows[Classes] = []Row{{ID: c.ID, Record: record, Gone: !c.Held}}
	if !c.Held {
		return Edit(rows)
	}
	in := map[string]bool{}
	here := now.Here(Enrollments)
	for _, id := range slices.Sorted(maps.Keys(here)) {
		if e := here[id]; e["classSourcedId"] == c.ID {
			who := e["userSourcedId"]
			stays := slices.Contains(c.Members, who) && !in[who]
			in[who] = in[who] || stays
			rows[Enrollments] = append(rows[Enrollments], Row{ID: id, Record: e, Gone: !stays})
		}
	}
	for _, who := range c.Members {
		if !in[who] {
			in[who] = true
			rows[Enrollments] = append(rows[Enrollments], Row{ID: fmt.Sprintf("in-%s-%s", c.ID, who), Record: Record{"classSourcedId": c.ID,
				"schoolSourcedId": record["schoolSourcedId"], "userSourcedId": who, "role": cmp.Or(now[Users][who].Record["role"], Student)}})
		}
	}
	return Edit(rows)
}

// ownOrg is the row of the organisation of what is made by hand, as it is where it is there.
func ownOrg(now Roster) []Row {
	id, r := OwnOrg()
	return []Row{{ID: id, Record: orElse(now[Orgs][id].Record, r)}}
}

// orElse is the first that there is.
func orElse(a, b Record) Record {
	if a != nil {
		return a
	}
	return b
}
