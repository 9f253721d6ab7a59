package httpapi

import (
	"errors"
	"strings"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
)

// where finds, in a refusal by the interface's description, the place and the
// reason in a few words.
func where(re *openapi3filter.RequestError) (at, problem string) {
	if re.Parameter != nil {
		at = re.Parameter.Name
	}
	var se *openapi3.SchemaError
	if errors.As(re.Err, &se) {
		if p := strings.Join(se.JSONPointer(), "."); p != "" {
			at = p
		}
		return at, se.Reason
	}
	var pe *openapi3filter.ParseError
	if errors.As(re.Err, &pe) {
		return at, "this is not JSON that can be read: " + pe.Error()
	}
	if re.Reason != "" {
		return at, re.Reason
	}
	return at, "the request cannot be read"
}
