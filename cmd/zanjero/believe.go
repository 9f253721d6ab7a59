package main

import (
	"io"

	"github.com/spf13/cobra"

	"zanjero/core/bench"
	"zanjero/core/diagnosis"
)

func believeCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "believe FILE",
		Short: "What a ledger of observations makes of an engine (JSON; - reads standard input)",
		Args:  cobra.MaximumNArgs(1),
		RunE: func(_ *cobra.Command, args []string) error {
			return onFile(args, func(in io.Reader) (any, error) {
				seen, err := bench.ReadSeen(in)
				if err != nil {
					return nil, err
				}
				return diagnosis.Believe(seen)
			})
		},
	}
}
