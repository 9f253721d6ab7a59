package httpapi

import (
	"bytes"
	"context"
	"errors"
	"net/http"
	"strings"

	"zanjero/internal/photo"
	"zanjero/internal/store"
)

// mostPhotos is how many a sheet takes.
const mostPhotos = 12

// ListPhotos lists what was photographed at a real engine.
func (s *Server) ListPhotos(ctx context.Context, _ ListPhotosRequestObject) (ListPhotosResponseObject, error) {
	out, err := s.photos(ctx, attempt(ctx))
	return ListPhotos200JSONResponse(out), err
}

func (s *Server) photos(ctx context.Context, a store.Attempt) ([]Photo, error) {
	rows, err := s.store.Photos(ctx, a.ID)
	out := []Photo{}
	for _, p := range rows {
		out = append(out, Photo{Id: p.ID, Note: p.Note, By: p.By.DisplayName, At: p.At})
	}
	return out, err
}

// AddPhoto keeps a photo, drawn anew: the work of that is bounded like all heavy work.
func (s *Server) AddPhoto(ctx context.Context, req AddPhotoRequestObject) (AddPhotoResponseObject, error) {
	a := attempt(ctx)
	if err := s.onIron(ctx, a); err != nil {
		return nil, err
	}
	image, err := heavily(ctx, s, []any{"photo", req.Body.Id, req.Body.Image}, func(context.Context) ([]byte, error) {
		out, p := photo.Redraw(req.Body.Image)
		if p != nil {
			return nil, p
		}
		return out, nil
	})
	if err != nil {
		return nil, err
	}
	p := store.Photo{ID: req.Body.Id, AttemptID: a.ID, Note: strings.TrimSpace(req.Body.Note), Image: image, ByID: whoIs(ctx).ID}
	if err = s.store.AddPhoto(ctx, &p, mostPhotos); errors.Is(err, store.ErrFull) {
		return nil, refuse(http.StatusConflict, "http.enough-photos", "most", mostPhotos)
	}
	if err != nil {
		return nil, err
	}
	out, err := s.photos(ctx, a)
	return AddPhoto200JSONResponse(out), err
}

// GetPhoto gives the image.
func (s *Server) GetPhoto(ctx context.Context, req GetPhotoRequestObject) (GetPhotoResponseObject, error) {
	p, err := s.store.Photo(ctx, attempt(ctx).ID, req.Photo)
	return GetPhoto200ImagejpegResponse{Body: bytes.NewReader(p.Image), ContentLength: int64(len(p.Image))}, err
}

// DropPhoto takes one away that should not have been taken.
func (s *Server) DropPhoto(ctx context.Context, req DropPhotoRequestObject) (DropPhotoResponseObject, error) {
	return DropPhoto204Response{}, s.store.DropPhoto(ctx, attempt(ctx).ID, req.Photo)
}
