package main

import (
	"bytes"
	"encoding/json"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/problem"
	"zanjero/core/shop"
)

// The stand-in sends lines that are read, of a machine that has what it is told to have.
func TestTheStandInSendsReadings(t *testing.T) {
	send := func(d standIn) []string {
		var out bytes.Buffer
		require.NoError(t, d.send(&out, func() time.Time { return time.Unix(0, 0) }))
		return strings.Split(strings.TrimSpace(out.String()), "\n")
	}
	d := standIn{family: "f4-bowl", test: "compression-dry", device: "SG-12", seed: 3, count: 3}
	for _, line := range send(d) {
		r, p := shop.ReadDevice(line)
		require.Nil(t, p, line)
		assert.Equal(t, "psi", r.Unit)
		assert.Equal(t, "1970-01-01T00:00:00Z", r.At)
	}
	sick := d
	sick.fault, sick.severity = "rings-worn", 1
	assert.NotEqual(t, send(d)[0], send(sick)[0])
	for _, bad := range []standIn{{family: "moon"}, {family: "f4-bowl", test: "jet-look"}, {family: "f4-bowl", test: "moon"},
		{family: "f4-bowl", test: "spark-gap", device: "two words", count: 1}, {family: "f4-bowl", test: "spark-gap", fault: "moon", count: 1}} {
		assert.Error(t, bad.send(&bytes.Buffer{}, time.Now), "%+v", bad)
	}
}

// Readings go to a sheet by its code, one by one; one that is not taken stops no other.
func TestReadingsArePosted(t *testing.T) {
	var got []map[string]string
	yard := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		var body map[string]string
		assert.Equal(t, "POST /api/device-readings", r.Method+" "+r.URL.Path)
		assert.NoError(t, json.NewDecoder(r.Body).Decode(&body))
		if got = append(got, body); body["code"] != "K7" {
			w.WriteHeader(http.StatusNotFound)
			return
		}
		w.WriteHeader(http.StatusNoContent)
	}))
	defer yard.Close()
	var sent, told bytes.Buffer
	require.NoError(t, (&standIn{family: "f4-bowl", test: "spark-gap", device: "SG-12", count: 2}).send(&sent, time.Now))
	lines := "hello\n\n" + sent.String()
	p := poster{to: yard.URL + "/", code: "K7", client: yard.Client()}
	require.NoError(t, p.all(t.Context(), strings.NewReader(lines), &told))
	require.Len(t, got, 2)
	assert.Contains(t, got[0]["line"], "test=spark-gap")
	assert.Contains(t, told.String(), "hello: ")

	p.code = "K8"
	var none *problem.Problem
	require.ErrorAs(t, p.all(t.Context(), strings.NewReader(lines), &told), &none)
	assert.Equal(t, "shop.no-sheet-with-code", none.Code)
	assert.Error(t, p.all(t.Context(), strings.NewReader(""), &told), "nothing came")
}
