// Package photo draws pictures anew that people have sent, so that nothing of what a camera
// writes beside them (where, when, with what, by whom) is kept.
package photo

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	_ "image/png" // a form that is read
	"math"

	"golang.org/x/image/draw"

	"zanjero/core/problem"
)

const (
	// MaxBytes is the most that a picture may have when it is sent.
	MaxBytes = 6 << 20
	// maxPixels is the most that is drawn at all, longest the longer side of what is kept.
	maxPixels = 40_000_000
	longest   = 1600
	quality   = 82
)

// Redraw gives a JPEG or PNG as a JPEG of no more than 1600 pixels a side, without any
// metadata. A picture lies as its pixels lie: whoever sends it turns it upright before. It
// refuses what is too large, and what is no picture or is cut short.
func Redraw(raw []byte) ([]byte, *problem.Problem) {
	if len(raw) > MaxBytes {
		return nil, problem.New("image", "photo.too-large", "most", MaxBytes>>20)
	}
	// The head alone is read first: a small file can claim to be a very large picture.
	head, _, err := image.DecodeConfig(bytes.NewReader(raw))
	if err != nil || head.Width < 1 || head.Height < 1 {
		return nil, problem.New("image", "photo.not-a-picture")
	}
	if head.Width > maxPixels/head.Height {
		return nil, problem.New("image", "photo.too-many-pixels", "most", maxPixels/1_000_000)
	}
	was, _, err := image.Decode(bytes.NewReader(raw))
	if err != nil {
		return nil, problem.New("image", "photo.not-a-picture")
	}
	w, h := float64(head.Width), float64(head.Height)
	by := math.Min(1, longest/math.Max(w, h))
	now := image.NewRGBA(image.Rect(0, 0, max(1, int(w*by+0.5)), max(1, int(h*by+0.5))))
	draw.Draw(now, now.Bounds(), image.NewUniform(color.White), image.Point{}, draw.Src)
	draw.ApproxBiLinear.Scale(now, now.Bounds(), was, was.Bounds(), draw.Over, nil)
	var out bytes.Buffer
	if err := jpeg.Encode(&out, now, &jpeg.Options{Quality: quality}); err != nil {
		return nil, problem.New("image", "photo.not-a-picture")
	}
	return out.Bytes(), nil
}
