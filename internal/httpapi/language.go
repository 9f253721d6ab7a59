package httpapi

import (
	"context"
	"strings"

	"github.com/labstack/echo/v5"

	"zanjero/messages"
)

type languageKey struct{}

// inLanguage puts the words of the language that is asked for where the handlers find them
// (RFC 9110, 12.5.4). The page asks for the one that its reader has chosen; the first that is
// named and known here counts, and English where none is.
func inLanguage(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		r := c.Request()
		ctx := context.WithValue(r.Context(), languageKey{}, languageOf(r.Header.Get("Accept-Language")))
		c.SetRequest(r.WithContext(ctx))
		return next(c)
	}
}

func languageOf(accepted string) *messages.Words {
	for named := range strings.SplitSeq(accepted, ",") {
		tag, _, _ := strings.Cut(strings.TrimSpace(named), ";")
		tag, _, _ = strings.Cut(strings.ToLower(tag), "-")
		if w := messages.In(tag); w.Language == tag {
			return w
		}
	}
	return english
}

// wordsOf are the words of whoever asks.
func wordsOf(ctx context.Context) *messages.Words {
	if w, ok := ctx.Value(languageKey{}).(*messages.Words); ok {
		return w
	}
	return english
}

// ChooseLanguage keeps the language that somebody reads in, for every device of theirs.
func (s *Server) ChooseLanguage(ctx context.Context, req ChooseLanguageRequestObject) (ChooseLanguageResponseObject, error) {
	if err := s.store.Speak(ctx, whoIs(ctx).ID, string(req.Body.Language)); err != nil {
		return nil, err
	}
	return ChooseLanguage204Response{}, nil
}
