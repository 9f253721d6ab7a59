package main

import (
	"context"
	"net"
	"net/http"
	"net/netip"
	"strings"

	"zanjero/core/problem"
	"zanjero/internal/cluster"
	"zanjero/internal/httpapi"
	"zanjero/internal/store"
	"zanjero/web"
)

// beside serves the other yards of an installation with the first. Each is a server of its
// own on a database of its own, and is told apart by the first part of the name that it is
// reached by; whatever is for none of them is for the first.
func beside(ctx context.Context, o serveOptions, url string, proxies []netip.Prefix, first http.Handler) (http.Handler, func(), error) {
	yards := map[string]http.Handler{}
	var ends []func()
	stop := func() {
		for _, end := range ends {
			end()
		}
	}
	for _, name := range o.yards {
		h, end, err := serveYard(ctx, o, url, proxies, name)
		if err != nil {
			stop()
			return nil, nil, err
		}
		yards[name], ends = h, append(ends, end)
		say("yard %s is reached by %s", name, strings.Join(yardHosts(o, name), ", "))
	}
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		host := r.Host
		if h, _, err := net.SplitHostPort(host); err == nil {
			host = h
		}
		name, _, _ := strings.Cut(strings.ToLower(host), ".")
		if h, is := yards[name]; is {
			h.ServeHTTP(w, r)
			return
		}
		first.ServeHTTP(w, r)
	}), stop, nil
}

func serveYard(ctx context.Context, o serveOptions, url string, proxies []netip.Prefix, name string) (http.Handler, func(), error) {
	at, err := yardURL(ctx, url, name)
	if err != nil {
		return nil, nil, err
	}
	st, err := store.Open(ctx, at)
	if err != nil {
		return nil, nil, err
	}
	hosts := yardHosts(o, name)
	srv, h, err := httpapi.New(ctx, httpapi.Options{Store: st, Web: web.Dist(), Loopback: httpapi.Loopback(o.addr), TLS: o.tls, Hosts: hosts, Proxies: proxies,
		Home: "http://" + hosts[0]})
	if err != nil {
		st.Close()
		return nil, nil, err
	}
	return h, func() { srv.Close(); st.Close() }, nil
}

// yardHosts are the names that a yard is reached by.
func yardHosts(o serveOptions, name string) []string {
	hosts := []string{name + ".localhost"}
	for _, h := range o.hosts {
		hosts = append(hosts, name+"."+h)
	}
	return hosts
}

// yardURL is where the database of a yard is, which is made where it is not there; the first
// yard has no name.
func yardURL(ctx context.Context, url, name string) (string, error) {
	if name == "" {
		return url, nil
	}
	if !cluster.YardName(name) {
		return "", problem.New("--yard", "command.bad-yard", "name", problem.Show(name))
	}
	return cluster.Beside(ctx, url, name)
}
