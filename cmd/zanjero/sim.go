package main

import (
	"encoding/json"
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
		return problem.New("FILE", "command.no-file-was-named-2")
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
		return nil, problem.New("FILE", "command.file-unreadable", "detail", err.Error())
	}
	return f, nil
}

func printList(what string) error {
	cat := catalogue.Standard()
	switch what {
	case "machines":
		return named("family", cat.Families, func(f *catalogue.Family) string { return f.ID })
	case "faults":
		return named("fault", cat.Faults, func(f *catalogue.Fault) string { return f.ID })
	case "tests":
		return named("test", cat.Tests, func(t *catalogue.Test) string { return t.ID })
	case "repairs":
		return printJSON(cat.AllRepairs())
	}
	return problem.New("--list", "command.no-list", "want", what)
}

// printJSON prints a value with words put to what is wrong in it.
func printJSON(v any) error {
	told, err := words.Explain(v)
	if err != nil {
		return err
	}
	enc := json.NewEncoder(os.Stdout)
	enc.SetIndent("", "  ")
	return enc.Encode(told)
}

// named prints a list of the catalogue with the words of each entry beside it.
func named[T any](kind string, list []T, id func(*T) string) error {
	out := make([]any, len(list))
	for i := range list {
		raw, err := json.Marshal(list[i])
		if err != nil {
			return err
		}
		entry := map[string]any{}
		if err := json.Unmarshal(raw, &entry); err != nil {
			return err
		}
		for _, field := range []string{"name", "title", "teaches", "cannot", "account"} {
			if text := words.Name(kind, id(&list[i]), field); text != "" {
				entry[field] = text
			}
		}
		out[i] = entry
	}
	return printJSON(out)
}
