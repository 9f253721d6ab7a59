package main

import (
	"bytes"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

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
