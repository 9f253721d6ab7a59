package httpapi

import (
	"context"
	"crypto/rand"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	openapi_types "github.com/oapi-codegen/runtime/types"

	"zanjero/core/ledger"
	"zanjero/core/shop"
	"zanjero/internal/store"
)

// register reads the instruments of the shop, by code.
func (s *Server) register(ctx context.Context) (shop.Register, error) {
	rows, err := s.store.Instruments(ctx)
	if err != nil {
		return nil, err
	}
	out := shop.Register{}
	for k := range rows {
		i, err := instrumentOf(&rows[k])
		if err != nil {
			return nil, err
		}
		out[i.Code] = i
	}
	return out, nil
}

func instrumentOf(row *store.Instrument) (*shop.Instrument, error) {
	i := &shop.Instrument{Code: row.Code, Name: row.Name, CheckedOn: row.CheckedOn.Format(time.DateOnly),
		DueOn: row.DueOn.Format(time.DateOnly), Gone: row.Gone}
	if err := json.Unmarshal(row.Reads, &i.Reads); err != nil {
		return nil, fmt.Errorf("instrument %s: %w", row.ID, err)
	}
	return i, nil
}

// today is the day by the clock of the server.
func today() string { return time.Now().Format(time.DateOnly) }

// withGauge puts to an act at a real engine what the register knows of what it was read
// with, whatever was sent of that.
func (s *Server) withGauge(ctx context.Context, e *ledger.Event) error {
	if e.Kind != ledger.EventHand || (e.Gauge == nil && e.Device == "") {
		return nil
	}
	r, err := s.register(ctx)
	if err != nil {
		return err
	}
	g, p := r.Gauge(e.Gauge, e.Device, e.Test, today())
	if p != nil {
		return p
	}
	e.Gauge = g
	return nil
}

// withGauges does so for readings of an engine.
func (s *Server) withGauges(ctx context.Context, rs []ledger.HandReading) error {
	r, err := s.register(ctx)
	if err != nil {
		return err
	}
	if p := r.Readings(rs, today()); p != nil {
		return p
	}
	return nil
}

// ListInstruments gives the register.
func (s *Server) ListInstruments(ctx context.Context, _ ListInstrumentsRequestObject) (ListInstrumentsResponseObject, error) {
	out, err := s.instruments(ctx)
	return ListInstruments200JSONResponse(out), err
}

func (s *Server) instruments(ctx context.Context) ([]ShopInstrument, error) {
	rows, err := s.store.Instruments(ctx)
	out := []ShopInstrument{}
	for k := range rows {
		i, bad := instrumentOf(&rows[k])
		if bad != nil {
			return nil, bad
		}
		overdue := i.Overdue(today())
		out = append(out, ShopInstrument{Id: rows[k].ID, Code: i.Code, Name: i.Name, CheckedOn: openapi_types.Date{Time: rows[k].CheckedOn},
			DueOn: openapi_types.Date{Time: rows[k].DueOn}, Reads: i.Reads, Gone: &i.Gone, Overdue: &overdue, Revision: rows[k].Revision})
	}
	return out, err
}

// KeepInstrument puts an instrument into the register, or changes what is said of it.
func (s *Server) KeepInstrument(ctx context.Context, req KeepInstrumentRequestObject) (KeepInstrumentResponseObject, error) {
	b := req.Body
	i := shop.Instrument{Code: strings.TrimSpace(b.Code), Name: strings.TrimSpace(b.Name), CheckedOn: b.CheckedOn.String(), DueOn: b.DueOn.String(),
		Reads: b.Reads, Gone: b.Gone != nil && *b.Gone}
	if bad := i.Check(); len(bad) > 0 {
		return nil, refuseAll(bad)
	}
	reads, err := json.Marshal(i.Reads)
	if err != nil {
		return nil, err
	}
	err = s.store.KeepInstrument(ctx, &store.Instrument{ID: b.Id, Code: i.Code, Name: i.Name, CheckedOn: b.CheckedOn.Time, DueOn: b.DueOn.Time,
		Reads: reads, Gone: i.Gone, Revision: b.Revision})
	if store.IsDuplicate(err) {
		return nil, refuseAt("code", "http.code-of-another-instrument", "code", i.Code)
	}
	if err != nil {
		return nil, err
	}
	out, err := s.instruments(ctx)
	return KeepInstrument200JSONResponse(out), err
}

// onIron refuses what only the sheet of a real engine has, as if it were not there.
func (s *Server) onIron(ctx context.Context, a store.Attempt) error {
	c, err := s.card(ctx, a.JobID)
	if err == nil && c.sc.Iron == nil {
		err = errNotFound
	}
	return err
}

// MakeDeviceCode gives the code under which a program at the bench may post readings to a
// sheet: 26 letters and figures that nobody guesses.
func (s *Server) MakeDeviceCode(ctx context.Context, _ MakeDeviceCodeRequestObject) (MakeDeviceCodeResponseObject, error) {
	a := attempt(ctx)
	if err := s.onIron(ctx, a); err != nil {
		return nil, err
	}
	code, err := s.store.DeviceCode(ctx, a.ID, rand.Text())
	return MakeDeviceCode200JSONResponse{Code: code}, err
}

// keptPosted is how many readings that were posted are kept for a sheet.
const keptPosted = 20

// PostDeviceReading keeps a reading that a program at the bench has posted.
func (s *Server) PostDeviceReading(ctx context.Context, req PostDeviceReadingRequestObject) (PostDeviceReadingResponseObject, error) {
	r, p := shop.ReadDevice(strings.TrimSpace(req.Body.Line))
	if p != nil {
		p.Path = strings.TrimSuffix("line."+p.Path, ".")
		return nil, p
	}
	if err := s.store.PostDeviceReading(ctx, req.Body.Code, r.String(), keptPosted); err != nil {
		return nil, err
	}
	return PostDeviceReading204Response{}, nil
}

// GetDeviceReadings lists what was posted to a sheet, the latest first.
func (s *Server) GetDeviceReadings(ctx context.Context, _ GetDeviceReadingsRequestObject) (GetDeviceReadingsResponseObject, error) {
	rows, err := s.store.DeviceReadings(ctx, attempt(ctx).ID)
	out := GetDeviceReadings200JSONResponse{}
	for _, row := range rows {
		r, p := shop.ReadDevice(row.Line)
		if p != nil {
			return nil, fmt.Errorf("posted reading %d: %w", row.ID, p)
		}
		out = append(out, PostedReading{Id: row.ID, Test: r.Test, Reading: r.Reading, Unit: r.Unit, Device: r.Device, At: row.At})
	}
	return out, err
}
