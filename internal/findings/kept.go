package main

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"slices"
	"strconv"
	"strings"

	"zanjero/core/machine"
)

// Planned pages take hours, so what was found is kept as a CSV file beside the tables,
// and a run goes on where the last one ended. A row of another model is worked out anew.

func head() []string {
	out := []string{"model", "complaint", "machine", "cheapest_minutes", "least_wrong", "most_right", "belief_minutes"}
	for _, n := range pageSteps {
		for _, f := range []string{"minutes", "wrong", "right"} {
			out = append(out, fmt.Sprintf("%s_%d", f, n))
		}
	}
	return out
}

func csvPages(all []pageTrial) string {
	var b strings.Builder
	w := csv.NewWriter(&b)
	rows := [][]string{head()}
	for i := range all {
		t := &all[i]
		row := []string{machine.Version, t.Complaint, t.Engine.Code}
		figures := []float64{t.Cheapest, t.LeastWrong, t.MostRight, t.Limit}
		for _, f := range t.Pages {
			figures = append(figures, f.Minutes, f.Wrong, f.Isolated)
		}
		for _, f := range figures {
			row = append(row, strconv.FormatFloat(f, 'f', 5, 64))
		}
		rows = append(rows, row)
	}
	check(w.WriteAll(rows))
	return b.String()
}

// readPages gives the rows of this model and of machines of the yard; none where there is
// no file.
func readPages(name string, yard []engine) ([]pageTrial, error) {
	raw, err := os.ReadFile(name)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	rows, err := csv.NewReader(strings.NewReader(string(raw))).ReadAll()
	if err != nil {
		return nil, fmt.Errorf("%s: %w", name, err)
	}
	var out []pageTrial
	for k, row := range rows {
		if k == 0 {
			if !slices.Equal(row, head()) {
				return nil, fmt.Errorf("%s: not the columns of this program", name)
			}
			continue
		}
		i := slices.IndexFunc(yard, func(e engine) bool { return e.Code == row[2] })
		if row[0] != machine.Version || i < 0 {
			continue
		}
		var f []float64
		for _, v := range row[3:] {
			x, err := strconv.ParseFloat(v, 64)
			if err != nil {
				return nil, fmt.Errorf("%s, row %d: %w", name, k+1, err)
			}
			f = append(f, x)
		}
		t := pageTrial{Engine: yard[i], Complaint: row[1], Cheapest: f[0], LeastWrong: f[1], MostRight: f[2], Limit: f[3]}
		for j, n := range pageSteps {
			t.Pages = append(t.Pages, frontier{n, f[4+3*j], f[5+3*j], f[6+3*j]})
		}
		out = append(out, t)
	}
	return out, nil
}
