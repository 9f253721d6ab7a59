package main

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"net"
	"net/netip"
	"os"
	"os/signal"
	"strings"
	"syscall"

	"github.com/spf13/cobra"

	"zanjero/demo"
	"zanjero/internal/cluster"
	"zanjero/internal/heavy"
	"zanjero/internal/httpapi"
	"zanjero/internal/lrs"
	"zanjero/internal/password"
	"zanjero/internal/store"
	"zanjero/internal/yard"
	"zanjero/web"
)

// serveOptions are what the command line can change of a server.
type serveOptions struct {
	addr, dir string
	demo, tls bool
	throwaway bool
	hosts     []string
	proxies   []string
	home      string
	yards     []string
	lrs       lrs.Store
}

// lrsSecret is where the secret of a record store is looked for, so that no list of
// programs shows it.
const lrsSecret = "ZANJERO_LRS_SECRET"

func serveCommand() *cobra.Command {
	var o serveOptions
	cmd := &cobra.Command{
		Use:   "serve",
		Short: "Serve the web application, with its own PostgreSQL on loopback",
		Long: "Serve the web application. A private PostgreSQL cluster is made and started under --dir,\n" +
			"unless ZANJERO_DATABASE_URL names a database to use instead. Ctrl-C stops all it started.",
		Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error { return serve(cmd.Context(), o) },
	}
	cmd.Flags().StringVar(&o.addr, "addr", "127.0.0.1:8080", "address to serve on")
	cmd.Flags().StringVar(&o.dir, "dir", ".run", "where the database lives")
	cmd.Flags().BoolVar(&o.demo, "demo", true, "load the demo yard into an empty database")
	cmd.Flags().BoolVar(&o.tls, "behind-tls", false, "it is reached over TLS: mark cookies Secure")
	cmd.Flags().StringSliceVar(&o.hosts, "host", nil, "a name it may be reached by, beside addresses in figures; may be given several times")
	cmd.Flags().StringSliceVar(&o.proxies, "proxy", nil, "the address, or range of addresses, of a proxy whose word is taken for where a request comes from")
	cmd.Flags().StringSliceVar(&o.yards, "yard", nil,
		"another yard beside the first, with a database of its own, reached by NAME.localhost and NAME.HOST; may be given several times")
	cmd.Flags().StringVar(&o.home, "home", "", "the address that people reach it by, such as https://yard.example; --addr where none is given")
	cmd.Flags().StringVar(&o.lrs.URL, "lrs", "", "a learning record store (xAPI 1.0.3) that is told how attempts stand, such as https://store.example/xapi")
	cmd.Flags().StringVar(&o.lrs.Key, "lrs-key", "", "the key for it; its secret is read from "+lrsSecret)
	cmd.Flags().BoolVar(&o.throwaway, "throwaway", false, "for tests: a database that is fast and not safe against a crash")
	return cmd
}

func serve(parent context.Context, o serveOptions) error {
	heavy.SetMemory()
	ctx, stop := signal.NotifyContext(parent, os.Interrupt, syscall.SIGTERM)
	defer stop()
	l, err := net.Listen("tcp", o.addr)
	if err != nil {
		if errors.Is(err, syscall.EADDRINUSE) {
			return fmt.Errorf("%s is in use by another program; stop that one, or serve elsewhere with --addr 127.0.0.1:8081", o.addr)
		}
		return fmt.Errorf("cannot serve on %s: %w; choose another with --addr", o.addr, err)
	}
	defer l.Close()
	if _, err := fs.Stat(web.Dist(), "index.html"); err != nil {
		return errors.New("the web application is not built into this program; run make build")
	}
	url, stopDatabase, err := database(ctx, o)
	if err != nil {
		return err
	}
	defer stopDatabase()
	st, err := store.Open(ctx, url)
	if err != nil {
		return err
	}
	defer st.Close()
	proxies, err := prefixes(o.proxies)
	if err != nil {
		return err
	}
	o.lrs.Secret = os.Getenv(lrsSecret)
	if o.home == "" {
		o.home = "http://" + l.Addr().String()
	}
	srv, handler, err := httpapi.New(ctx, httpapi.Options{Home: strings.TrimSuffix(o.home, "/"), Records: o.lrs, Store: st, Web: web.Dist(),
		Loopback: httpapi.Loopback(o.addr), TLS: o.tls, Hosts: o.hosts,
		Proxies: proxies})
	if err != nil {
		return err
	}
	defer srv.Close()
	y, err := yard.Parse(demo.Yard)
	if err != nil {
		return err
	}
	if y.Library, err = yard.ParseLibrary(demo.Scenarios); err != nil {
		return err
	}
	if y.Exam, err = yard.ParseExam(demo.Exam); err != nil {
		return err
	}
	y.Exam.Queue = srv.Queue
	if o.demo {
		loaded, err := yard.Load(ctx, st, y, password.Standard, srv.Seed)
		if err != nil {
			return err
		}
		if loaded {
			say("loaded the demo yard")
		}
	}
	handler, stopYards, err := beside(ctx, o, url, proxies, handler)
	if err != nil {
		return err
	}
	defer stopYards()
	say("serving on http://%s  (Ctrl-C to stop)", l.Addr())
	if o.demo && httpapi.Loopback(o.addr) {
		for _, p := range y.People {
			say("  sign in as %-8s %-12s (%s)", p.Name, p.Password, p.Role)
		}
	}
	err = httpapi.Serve(ctx, l, handler)
	say("stopping")
	return err
}

// prefixes reads addresses and ranges of addresses.
func prefixes(texts []string) (out []netip.Prefix, err error) {
	for _, t := range texts {
		p, err := netip.ParsePrefix(t)
		if a, one := netip.ParseAddr(t); one == nil {
			p, err = netip.PrefixFrom(a, a.BitLen()), nil
		}
		if err != nil {
			return nil, fmt.Errorf("--proxy %s is no address; write one such as 10.0.0.4 or 10.0.0.0/24", t)
		}
		out = append(out, p)
	}
	return out, nil
}

// database gives a URL, and how to stop what was started for it.
func database(ctx context.Context, o serveOptions) (url string, stop func(), err error) {
	if url = os.Getenv("ZANJERO_DATABASE_URL"); url != "" {
		return url, func() {}, nil
	}
	c, err := cluster.Start(ctx, cluster.Options{Dir: o.dir + "/pg", Say: say, Throwaway: o.throwaway})
	if err != nil {
		return "", nil, err
	}
	go c.Watch(ctx)
	return c.URL, func() {
		if err := c.Stop(); err != nil {
			say("%v", err)
		}
	}, nil
}

func say(format string, args ...any) { fmt.Fprintf(os.Stderr, format+"\n", args...) }
