package roster

import (
	"archive/zip"
	"bytes"
	"encoding/csv"
	"maps"
	"slices"
)

// Write writes everybody and everything that has not left as a zip in OneRoster 1.1's bulk
// form. Records are sorted by id, so the same roster gives the same files.
func Write(r Roster) ([]byte, error) {
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	put := func(name string, rows [][]string) error {
		w, err := z.Create(name + ".csv")
		if err != nil {
			return err
		}
		return csv.NewWriter(w).WriteAll(rows)
	}
	head := [][]string{{"propertyName", "value"}, {"manifest.version", "1.0"}, {"oneroster.version", "1.1"}}
	for _, t := range others {
		head = append(head, []string{"file." + t, "absent"})
	}
	for _, t := range Tables {
		head = append(head, []string{"file." + t.Name, "bulk"})
	}
	head = append(head, []string{"source.systemName", "Zanjero"}, []string{"source.systemCode", "zanjero"})
	if err := put("manifest", head); err != nil {
		return nil, err
	}
	for _, t := range Tables {
		if err := put(t.Name, t.rows(r)); err != nil {
			return nil, err
		}
	}
	if err := z.Close(); err != nil {
		return nil, err
	}
	return out.Bytes(), nil
}

// others are the files of the form that nothing here goes into.
var others = []string{"categories", "classResources", "courseResources", "demographics", "lineItems", "resources", "results"}

func (t *Table) rows(r Roster) [][]string {
	more := map[string]bool{} // metadata
	here := r.Here(t.Name)
	for _, rec := range here {
		for c := range rec {
			if !slices.ContainsFunc(t.Columns, func(x Column) bool { return x.Name == c }) {
				more[c] = true
			}
		}
	}
	var names []string
	for _, c := range t.Columns {
		names = append(names, c.Name)
	}
	names = append(names, slices.Sorted(maps.Keys(more))...)
	rows := [][]string{names}
	for _, id := range slices.Sorted(maps.Keys(here)) {
		row := make([]string, len(names))
		for i, n := range names {
			row[i] = here[id][n]
		}
		row[0] = id
		rows = append(rows, row)
	}
	return rows
}
