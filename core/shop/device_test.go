package shop_test

import (
	"encoding/json"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/shop"
)

// The lines that the page's own reader is tried with too.
func TestDeviceLines(t *testing.T) {
	raw, err := os.ReadFile("testdata/device-lines.json")
	require.NoError(t, err)
	var lines struct {
		Good []struct {
			Line string
			Is   shop.DeviceReading
		}
		Bad []string
	}
	require.NoError(t, json.Unmarshal(raw, &lines))
	for _, l := range lines.Good {
		got, p := shop.ReadDevice(l.Line)
		require.Nil(t, p, l.Line)
		assert.Equal(t, l.Is, got)
	}
	for _, l := range lines.Bad {
		_, p := shop.ReadDevice(l)
		assert.NotNil(t, p, l)
	}
}

func FuzzReadDevice(f *testing.F) {
	f.Add("reading test=compression-dry value=51.2 unit=psi at=2026-11-27T14:03:00Z device=SG-12")
	f.Fuzz(func(t *testing.T, line string) {
		r, p := shop.ReadDevice(line)
		if p != nil {
			return
		}
		if again, p := shop.ReadDevice(r.String()); p != nil || again != r {
			t.Fatalf("%q became %+v, %v", line, again, p)
		}
	})
}
