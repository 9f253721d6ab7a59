package main

import (
	"encoding/json"
	"fmt"
	"io"
	"os"

	"github.com/spf13/cobra"

	"zanjero/core/catalogue"
	"zanjero/core/problem"
	"zanjero/core/sim"
)

func simCommand() *cobra.Command {
	var list string
	cmd := &cobra.Command{
		Use:   "sim FILE",
		Short: "Run one machine: faults and events in, observations out (JSON; - reads standard input)",
		Args:  cobra.MaximumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			if list != "" {
				return printList(list)
			}
			return onFile(args, func(in io.Reader) (any, error) { return sim.Simulate(in) })
		},
	}
	cmd.Flags().StringVar(&list, "list", "", "print a part of the catalogue: machines, faults, tests or repairs")
	return cmd
}

// onFile does something with the one file that is named and prints what comes
// of it.
func onFile(args []string, do func(io.Reader) (any, error)) error {
	if len(args) != 1 {
		return &problem.Problem{Path: "FILE", Problem: "no file was named", Mend: "name a JSON file, or - for standard input"}
	}
	in, err := open(args[0])
	if err != nil {
		return err
	}
	defer in.Close()
	out, err := do(in)
	if err != nil {
		return err
	}
	return printJSON(out)
}

func open(name string) (io.ReadCloser, error) {
	if name == "-" {
		return io.NopCloser(os.Stdin), nil
	}
	f, err := os.Open(name)
	if err != nil {
		return nil, &problem.Problem{Path: "FILE", Problem: err.Error(), Mend: "name a file that can be read, or - for standard input"}
	}
	return f, nil
}

func printList(what string) error {
	cat := catalogue.Standard()
	switch what {
	case "machines":
		return printJSON(cat.Families)
	case "faults":
		return printJSON(cat.Faults)
	case "tests":
		return printJSON(cat.Tests)
	case "repairs":
		return printJSON(cat.AllRepairs())
	}
	return &problem.Problem{Path: "--list", Problem: fmt.Sprintf("there is no list of %q", what), Mend: "write machines, faults, tests or repairs"}
}

func printJSON(v any) error {
	enc := json.NewEncoder(os.Stdout)
	enc.SetIndent("", "  ")
	return enc.Encode(v)
}
