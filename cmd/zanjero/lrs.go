package main

import (
	"net"
	"net/http"
	"os"
	"os/signal"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"zanjero/internal/lrs"
)

func lrsCommand() *cobra.Command {
	var addr, key string
	cmd := &cobra.Command{
		Use:   "lrs-standin",
		Short: "A small learning record store that stands in for a real one",
		Long: "A learning record store (xAPI 1.0.3) on loopback that checks every statement and keeps it until it ends.\n" +
			"Its secret is read from " + lrsSecret + ". Serve with --lrs http://127.0.0.1:8090 --lrs-key KEY to tell it.",
		Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			ctx, stop := signal.NotifyContext(c.Context(), os.Interrupt, syscall.SIGTERM)
			defer stop()
			l, err := net.Listen("tcp", addr)
			if err != nil {
				return err
			}
			srv := &http.Server{Handler: &lrs.StandIn{Key: key, Secret: os.Getenv(lrsSecret)}, ReadHeaderTimeout: 5 * time.Second}
			defer srv.Close()
			say("a record store stands in on http://%s  (Ctrl-C to stop)", l.Addr())
			go func() { <-ctx.Done(); _ = srv.Close() }()
			if err := srv.Serve(l); err != http.ErrServerClosed {
				return err
			}
			return nil
		},
	}
	cmd.Flags().StringVar(&addr, "addr", "127.0.0.1:8090", "address to serve on")
	cmd.Flags().StringVar(&key, "key", "zanjero", "the key that is asked for")
	return cmd
}
