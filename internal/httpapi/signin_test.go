package httpapi_test

import (
	"net/http"
	"net/netip"
	"strings"
	"sync"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/internal/httpapi"
	"zanjero/internal/store"
	"zanjero/internal/testdb"
	"zanjero/internal/yard"
)

// from sends everything that a user asks for as a proxy would from an address.
type from struct {
	address string
	then    http.RoundTripper
}

func (f from) RoundTrip(r *http.Request) (*http.Response, error) {
	if f.address != "" {
		r.Header.Set("X-Forwarded-For", f.address)
	}
	return f.then.RoundTrip(r)
}

func (s *site) anyoneAt(address string) *user {
	u := s.anyone()
	u.c.Transport = from{address, http.DefaultTransport}
	return u
}

func (u *user) signIn(name, password string) int {
	code, _ := u.call("POST", "/api/session", map[string]string{"name": name, "password": password})
	return code
}

// behindProxy is a site with somebody who is not of the demo, behind a proxy on
// this machine.
func behindProxy(t *testing.T) *site {
	s := open(t)
	require.NoError(t, s.store.AddPerson(t.Context(), &store.Person{ID: uuid.New(), Name: "eva", DisplayName: "Eva", Role: store.Apprentice,
		PasswordHash: cheap.Hash("right"), SessionEpoch: 1}))
	s.serveWith(httpapi.Options{Proxies: []netip.Prefix{netip.MustParsePrefix("127.0.0.1/32")}})
	return s
}

// Tries count before the password is looked at, so many at once are no more than
// one after the other; and whoever has signed in before is not locked out by
// strangers.
func TestSignInsAreThrottled(t *testing.T) {
	t.Parallel()
	s := behindProxy(t)
	eva := s.anyoneAt("10.0.0.1")
	require.Equal(t, 200, eva.signIn("eva", "right"))
	var wg sync.WaitGroup
	var mu sync.Mutex
	counts := map[int]int{}
	for range 40 {
		wg.Go(func() {
			code := s.anyoneAt("10.0.0.2").signIn("eva", "wrong")
			mu.Lock()
			defer mu.Unlock()
			counts[code]++
		})
	}
	wg.Wait()
	assert.Equal(t, map[int]int{401: 5, 429: 35}, counts)
	assert.Equal(t, 429, s.anyoneAt("10.0.0.2").signIn("eva", "right"), "not even the right one, from there")
	assert.Equal(t, 200, s.anyoneAt("10.0.0.3").signIn("eva", "right"), "another address has its own tries")
	// A name is tried from everywhere: strangers use it up, its owner's browser
	// goes on.
	stranger := 0
	for i := range 80 {
		if code := s.anyoneAt(netip.AddrFrom4([4]byte{10, 1, byte(i / 200), byte(i)}).String()).signIn("eva", "wrong"); code == 429 {
			stranger++
		}
	}
	assert.Greater(t, stranger, 20)
	assert.Equal(t, 429, s.anyoneAt("10.0.0.9").signIn("eva", "right"), "from a browser that was never hers")
	assert.Equal(t, 200, eva.signIn("eva", "right"), "from hers")
	assert.Equal(t, 401, s.anyoneAt("10.0.0.2").signIn("somebody-else", "x"), "another name from the same address is no matter")
	// An address has an end too, whatever the names.
	last := 0
	for range 160 {
		last = s.anyoneAt("10.9.9.9").signIn(uuid.NewString(), "x")
	}
	assert.Equal(t, 429, last)
}

// Where nobody stands between, nobody's word is taken for where they come from.
func TestForwardedIsNotBelieved(t *testing.T) {
	t.Parallel()
	s := open(t)
	last := 0
	for i := range 7 {
		last = s.anyoneAt(netip.AddrFrom4([4]byte{10, 0, 0, byte(i)}).String()).signIn("ann", "wrong")
	}
	assert.Equal(t, 429, last)
}

// The demo's people, whose passwords stand in a file, sign in on this machine
// itself and nowhere else.
func TestDemoSignInsAreLocal(t *testing.T) {
	t.Parallel()
	s := open(t)
	assert.Equal(t, 200, s.anyone().signIn("ann", "pw-ann"))
	assert.Equal(t, 403, s.anyoneAt("10.0.0.1").signIn("ann", "pw-ann"), "through a proxy that says so")
	s.serveWith(httpapi.Options{Loopback: true, Hosts: []string{"yard.example"}})
	named := s.anyone()
	named.c.Transport = host{"yard.example"}
	assert.Equal(t, 403, named.signIn("ann", "pw-ann"), "by a name that a tunnel could carry")
	foreign := s.anyone()
	foreign.c.Transport = host{"elsewhere.example"}
	assert.Equal(t, 421, foreign.signIn("ann", "pw-ann"), "by a name that is not its own")
	s.serveWith(httpapi.Options{})
	assert.Equal(t, 403, s.anyone().signIn("ann", "pw-ann"), "on an address that others reach")
	assert.Equal(t, 401, s.anyone().signIn("ann", "wrong"))
}

// host asks by a name of its own.
type host struct{ name string }

func (h host) RoundTrip(r *http.Request) (*http.Response, error) {
	r.Host = h.name
	return http.DefaultTransport.RoundTrip(r)
}

// Whoever is disabled, or whose sessions were ended, is out at once, on every
// server of the database.
func TestSessionsEndEverywhere(t *testing.T) {
	t.Parallel()
	s := open(t)
	first, ann := s.url, s.as("ann")
	s.serve(true)
	there := &user{&site{t: t, url: s.url, store: s.store, spec: s.spec}, ann.c}
	here := &user{&site{t: t, url: first, store: s.store, spec: s.spec}, ann.c}
	me := func(u *user) int { code, _ := u.get("/api/me"); return code }
	assert.Equal(t, []int{200, 200}, []int{me(here), me(there)}, "a session holds at both")
	p, err := s.store.PersonByName(t.Context(), "ann")
	require.NoError(t, err)
	require.NoError(t, s.store.EndSessions(t.Context(), p.ID))
	assert.Equal(t, []int{401, 401}, []int{me(here), me(there)})
	require.Equal(t, 200, here.signIn("ann", "pw-ann"))
	code, _ := there.call("DELETE", "/api/session", nil)
	assert.Equal(t, 204, code)
	assert.Equal(t, []int{401, 401}, []int{me(here), me(there)}, "signed out at one is signed out at both")
	require.Equal(t, 200, here.signIn("ann", "pw-ann"))
	require.NoError(t, s.store.Disable(t.Context(), p.ID, true))
	assert.Equal(t, 401, me(there))
	assert.Equal(t, 401, here.signIn("ann", "pw-ann"), "and no word that the password was right")
	require.NoError(t, s.store.Disable(t.Context(), p.ID, false))
	assert.Equal(t, 200, here.signIn("ann", "pw-ann"))
}

// Behind TLS no other host can set the session's cookie, and it is sent over TLS
// alone.
func TestCookiesAreBoundToTheHost(t *testing.T) {
	t.Parallel()
	s := &site{t: t, store: testdb.Open(t)}
	s.serveWith(httpapi.Options{TLS: true})
	require.NoError(t, s.store.AddPerson(t.Context(), &store.Person{ID: uuid.New(), Name: "real", DisplayName: "R", Role: store.Instructor,
		PasswordHash: cheap.Hash("pw-real"), SessionEpoch: 1}))
	body := strings.NewReader(`{"name":"real","password":"pw-real"}`)
	res, err := http.Post(s.url+"/api/session", "application/json", body)
	require.NoError(t, err)
	defer res.Body.Close()
	require.Equal(t, 200, res.StatusCode)
	named := map[string]*http.Cookie{}
	for _, c := range res.Cookies() {
		named[c.Name] = c
		assert.True(t, c.Secure && c.HttpOnly, c.Name)
	}
	require.Contains(t, named, "__Host-zanjero")
	assert.Equal(t, "/", named["__Host-zanjero"].Path)
	assert.Empty(t, named["__Host-zanjero"].Domain)
}

// Two servers that come up on one empty database make its people once.
func TestTwoServersLoadOneYard(t *testing.T) {
	t.Parallel()
	db := testdb.Open(t)
	f, err := yard.Parse([]byte(`{"format":"zanjero-yard-1",` + people + `}`))
	require.NoError(t, err)
	loaded := make(chan bool, 6)
	for range cap(loaded) {
		go func() {
			did, err := yard.Load(t.Context(), db, f, cheap, func(uuid.UUID) int64 { return 1 })
			assert.NoError(t, err)
			loaded <- did
		}()
	}
	times := 0
	for range cap(loaded) {
		if <-loaded {
			times++
		}
	}
	assert.Equal(t, 1, times)
	all, err := db.People(t.Context(), "")
	require.NoError(t, err)
	assert.Len(t, all, 3)
}
