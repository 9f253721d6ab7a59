// Command zanjero teaches small-engine fault-finding: it serves the web
// application and gives the core on the command line.
package main

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"zanjero/core/problem"
	"zanjero/messages"

	"github.com/spf13/cobra"
)

// words are those of the command line.
var words = messages.In(messages.English)

func main() {
	root := &cobra.Command{
		Use: "zanjero", Short: "Teach small-engine fault-finding",
		SilenceUsage: true, SilenceErrors: true,
	}
	root.AddCommand(serveCommand(), lrsCommand(), simCommand(), planCommand(), believeCommand(), procedureCommand(), scenarioCommand(), assessCommand(),
		studyCommand(),
		deviceCommand(), postCommand(),
		packCommand(), personCommand(), backupCommand(), restoreCommand(), versionCommand())
	if err := root.ExecuteContext(context.Background()); err != nil {
		os.Exit(report(err))
	}
}

// report prints an error and chooses the exit code: 2 with a JSON error for
// bad input, 1 otherwise.
func report(err error) int {
	var p *problem.Problem
	if errors.As(err, &p) {
		told, _ := words.Explain(p)
		_ = json.NewEncoder(os.Stderr).Encode(map[string]any{"error": told})
		return 2
	}
	fmt.Fprintln(os.Stderr, "zanjero:", err)
	return 1
}
