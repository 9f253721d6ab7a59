package photo

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// picture is a JPEG with a block of metadata that names a place.
func picture(t testing.TB, w, h int) []byte {
	m := image.NewRGBA(image.Rect(0, 0, w, h))
	for x := range w {
		for y := range h {
			m.Set(x, y, color.RGBA{uint8(x), uint8(y), 90, 255})
		}
	}
	var out bytes.Buffer
	require.NoError(t, jpeg.Encode(&out, m, nil))
	raw := out.Bytes()
	about := []byte("Exif\x00\x00 taken at 36.77 N 119.42 W by Ines")
	block := append([]byte{0xff, 0xe1, 0, byte(len(about) + 2)}, about...)
	return append(append(append([]byte{}, raw[:2]...), block...), raw[2:]...)
}

func TestWhatACameraWroteIsGone(t *testing.T) {
	raw := picture(t, 2400, 1200)
	require.Contains(t, string(raw), "36.77 N")
	out, p := Redraw(raw)
	require.Nil(t, p)
	assert.NotContains(t, string(out), "36.77 N")
	assert.NotContains(t, string(out), "Exif")
	now, err := jpeg.DecodeConfig(bytes.NewReader(out))
	require.NoError(t, err)
	assert.Equal(t, []int{1600, 800}, []int{now.Width, now.Height})

	// What is clear in a PNG is white.
	var clear bytes.Buffer
	require.NoError(t, png.Encode(&clear, image.NewNRGBA(image.Rect(0, 0, 3, 2))))
	out, p = Redraw(clear.Bytes())
	require.Nil(t, p)
	small, err := jpeg.Decode(bytes.NewReader(out))
	require.NoError(t, err)
	r, g, b, _ := small.At(1, 1).RGBA()
	assert.Greater(t, min(r, g, b), uint32(0xf000))
}

func TestNoPictureIsRefused(t *testing.T) {
	raw := picture(t, 40, 30)
	// The head of a PNG that claims 60 000 by 60 000.
	var huge bytes.Buffer
	require.NoError(t, png.Encode(&huge, image.NewGray(image.Rect(0, 0, 1, 1))))
	claims := huge.Bytes()
	copy(claims[16:24], []byte{0, 0, 0xea, 0x60, 0, 0, 0xea, 0x60})
	for name, c := range map[string]struct {
		raw  []byte
		code string
	}{
		"nothing":   {nil, "photo.not-a-picture"},
		"text":      {[]byte("a letter"), "photo.not-a-picture"},
		"cut short": {raw[:len(raw)/2], "photo.not-a-picture"},
		"40 MB":     {append(raw, make([]byte, 40<<20)...), "photo.too-large"},
		"a claim":   {claims, "photo.not-a-picture"}, // its check sum is another's
	} {
		_, p := Redraw(c.raw)
		if assert.NotNil(t, p, name) {
			assert.Equal(t, c.code, p.Code, name)
		}
	}
}

func FuzzRedraw(f *testing.F) {
	f.Add(picture(f, 8, 8))
	f.Add([]byte("\x89PNG\r\n\x1a\n"))
	f.Fuzz(func(t *testing.T, raw []byte) {
		out, p := Redraw(raw)
		if p == nil {
			_, err := jpeg.Decode(bytes.NewReader(out))
			require.NoError(t, err)
		}
	})
}
