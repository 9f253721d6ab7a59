package httpapi_test

import (
	"errors"
	"flag"
	"fmt"
	"sync"

	"zanjero/internal/httpapi"
)

// described are the operations that have answered well and were held against their
// description.
var described sync.Map

// allDescribed says which operation has never answered well in any test, so that its answer
// was not held against its description. It says nothing where only some tests were run.
func allDescribed() error {
	if flag.Lookup("test.run").Value.String() != "" || flag.Lookup("test.skip").Value.String() != "" {
		return nil
	}
	doc, err := httpapi.GetSpec()
	if err != nil {
		return err
	}
	var never []error
	for path, item := range doc.Paths.Map() {
		for method := range item.Operations() {
			if _, ok := described.Load(method + " " + path); !ok {
				never = append(never, fmt.Errorf("%s %s has never answered well", method, path))
			}
		}
	}
	return errors.Join(never...)
}
