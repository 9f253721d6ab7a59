package main

import (
	"io"

	"github.com/spf13/cobra"

	"zanjero/core/assess"
	"zanjero/messages"
)

func assessCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "assess FILE",
		Short: "Judge a finished attempt: readings, conclusion, economy, order, safety, proof (JSON; - reads standard input)",
		Args:  cobra.MaximumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			return onFile(args, func(in io.Reader) (any, error) {
				a, err := assess.AssessAttempt(cmd.Context(), in)
				if err != nil {
					return nil, err
				}
				words := messages.In(messages.English)
				return a.Report(func(r assess.Reason) string { return words.Text("reason."+r.Code, r.Params) }), nil
			})
		},
	}
}
