package e2e

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/e2e/drive"
	"episema/internal/testdb"
	"episema/store/cluster"
)

var (
	binary   string
	finished string         // the folder of a server that holds the demo, as it ships
	seeded   string         // the same without what was done in it, so that tests begin at the beginning
	shared   string         // the address of a database that holds what seeded does, beside those of the tests
	chromium *drive.Browser // what every test has a profile of its own in
)

func TestMain(m *testing.M) {
	os.Exit(func() int {
		dir, err := testdb.Dir()
		if err != nil {
			fmt.Fprintln(os.Stderr, err)
			return 1
		}
		defer os.RemoveAll(dir)
		binary = filepath.Join(dir, "episema")
		if out, err := exec.Command("go", "build", "-o", binary, "../cmd/episema").CombinedOutput(); err != nil {
			fmt.Fprintf(os.Stderr, "%s\n", out)
			return 1
		}
		finished, seeded = filepath.Join(dir, "finished"), filepath.Join(dir, "seeded")
		if err := seed(); err != nil {
			fmt.Fprintln(os.Stderr, err)
			return 1
		}
		end, err := shareDatabase(filepath.Join(dir, "shared"))
		if err != nil {
			fmt.Fprintln(os.Stderr, err)
			return 1
		}
		defer end()
		if chromium, err = drive.Open(context.Background(), 1280, 800); err != nil {
			fmt.Fprintln(os.Stderr, err)
			return 1
		}
		code := m.Run()
		// The browser itself has ended before its time, once, beside a machine full of work: then nothing after it says anything of the
		// product. What makes it end again makes the second run fail.
		if code != 0 && chromium.Ctx.Err() != nil {
			fmt.Fprintln(os.Stderr, "Chromium has ended by itself; all is run once more in a new one")
			chromium.Close()
			if chromium, err = drive.Open(context.Background(), 1280, 800); err != nil {
				fmt.Fprintln(os.Stderr, err)
				return 1
			}
			code = m.Run()
		}
		chromium.Close()
		return code
	}())
}

// seed makes the folder that the tests' servers begin with: making a database and bringing the demo in takes longer than
// many a test.
func seed() error {
	s := &server{data: finished, log: &syncBuffer{}}
	end := func() error {
		if err := s.cmd.Process.Signal(os.Interrupt); err != nil {
			return err
		}
		return s.cmd.Wait()
	}
	if err := s.begin(); err != nil {
		return err
	}
	if err := end(); err != nil {
		return err
	}
	if err := copyFolder(finished, seeded); err != nil {
		return err
	}
	s.data = seeded
	if err := s.begin(); err != nil {
		return err
	}
	if err := s.undoAll(); err != nil {
		return err
	}
	return end()
}

// shareDatabase starts a cluster in which every test has a database of its own, a copy of what was seeded: that takes a fraction of what a cluster
// for each does.
func shareDatabase(folder string) (end func(), err error) {
	if err := copyFolder(seeded, folder); err != nil {
		return nil, err
	}
	c, err := cluster.Start(context.Background(), filepath.Join(folder, "postgres"), slog.New(slog.DiscardHandler))
	if err != nil {
		return nil, err
	}
	shared = c.URL()
	return c.Stop, inShared("CREATE DATABASE seeded TEMPLATE postgres")
}

// databaseURL is the address of one of the shared cluster's databases.
func databaseURL(name string) string {
	u, err := url.Parse(shared)
	if err != nil {
		panic(err)
	}
	u.Path = "/" + name
	return u.String()
}

// inShared runs a command in the shared cluster, in none of the tests' databases.
func inShared(command string) error {
	ctx := context.Background()
	c, err := pgx.Connect(ctx, databaseURL("template1"))
	if err != nil {
		return err
	}
	defer c.Close(ctx)
	_, err = c.Exec(ctx, command)
	return err
}

func copyFolder(from, to string) error {
	if out, err := exec.Command("cp", "-a", "--reflink=auto", from, to).CombinedOutput(); err != nil {
		return fmt.Errorf("%s: %w", out, err)
	}
	return nil
}

// undoAll takes the parts out of every picture and the colourways out of the demo job.
func (s *server) undoAll() error {
	call := func(method, path string, in, out any) error {
		b, err := json.Marshal(in)
		if err != nil {
			return err
		}
		req, err := http.NewRequest(method, s.url()+path, bytes.NewReader(b))
		if err != nil {
			return err
		}
		req.Header.Set("Content-Type", "application/json")
		res, err := http.DefaultClient.Do(req)
		if err != nil {
			return err
		}
		defer res.Body.Close()
		if res.StatusCode >= 300 {
			b, _ := io.ReadAll(res.Body)
			return fmt.Errorf("%s %s: %s", method, path, b)
		}
		return json.NewDecoder(res.Body).Decode(out)
	}
	var jobs []struct{ ID string }
	if err := call("GET", "/api/jobs", nil, &jobs); err != nil {
		return err
	}
	var job struct {
		Revision int
		Palette  json.RawMessage
		Pictures []struct{ ID string }
	}
	if err := call("GET", "/api/jobs/"+jobs[0].ID, nil, &job); err != nil {
		return err
	}
	var none any
	if err := call("PUT", "/api/jobs/"+jobs[0].ID+"/content", map[string]any{"base": job.Revision, "label": "none", "palette": job.Palette, "colourways": []any{}}, &none); err != nil {
		return err
	}
	for _, p := range job.Pictures {
		var pic picture
		if err := call("GET", "/api/pictures/"+p.ID, nil, &pic); err != nil {
			return err
		}
		if len(pic.Document.Parts) > 0 && pic.Document.Parts[0].Family == nil {
			if err := call("PUT", "/api/pictures/"+p.ID+"/document", map[string]any{"base": pic.Revision, "label": "none", "document": map[string]any{"parts": []any{}}}, &none); err != nil {
				return err
			}
		}
	}
	return nil
}

// server is the real binary with a database of its own.
type server struct {
	t        *testing.T
	data     string
	database string // in the shared cluster; empty where the server has a cluster of its own
	port     int
	cmd      *exec.Cmd
	log      *syncBuffer
}

type syncBuffer struct {
	mu sync.Mutex
	b  bytes.Buffer
}

func (s *syncBuffer) Write(p []byte) (int, error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.b.Write(p)
}

func (s *syncBuffer) String() string {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.b.String()
}

// newServer starts a server with what was seeded, its database in the shared cluster.
func newServer(t *testing.T) *server {
	t.Helper()
	dir, err := testdb.Dir()
	require.NoError(t, err)
	s := &server{t: t, data: filepath.Join(dir, "data"), database: "of_" + strings.ReplaceAll(uuid.NewString(), "-", ""), log: &syncBuffer{}}
	require.NoError(t, os.Mkdir(s.data, 0o755))
	require.NoError(t, copyFolder(filepath.Join(seeded, "cache"), filepath.Join(s.data, "cache")))
	require.NoError(t, inShared("CREATE DATABASE "+s.database+" TEMPLATE seeded"))
	t.Cleanup(func() {
		s.stop()
		if t.Failed() {
			t.Log(s.log.String())
		}
		assert.NoError(t, inShared("DROP DATABASE "+s.database+" WITH (FORCE)"))
		os.RemoveAll(dir)
	})
	s.start()
	return s
}

// newServerOf starts a server with a copy of a folder, and a cluster of its own in it.
func newServerOf(t *testing.T, folder string) *server {
	t.Helper()
	dir, err := testdb.Dir()
	require.NoError(t, err)
	s := &server{t: t, data: filepath.Join(dir, "data"), log: &syncBuffer{}}
	require.NoError(t, copyFolder(folder, s.data))
	t.Cleanup(func() {
		s.stop()
		if t.Failed() {
			t.Log(s.log.String())
		}
		os.RemoveAll(dir)
	})
	s.start()
	return s
}

func (s *server) url() string { return fmt.Sprintf("http://127.0.0.1:%d", s.port) }

func (s *server) start() {
	s.t.Helper()
	require.NoError(s.t, s.begin())
}

// begin starts the server, on a port of its own that it keeps, and waits until it answers.
func (s *server) begin() error {
	if s.port == 0 {
		l, err := net.Listen("tcp4", "127.0.0.1:0")
		if err != nil {
			return err
		}
		s.port = l.Addr().(*net.TCPAddr).Port
		if err := l.Close(); err != nil {
			return err
		}
	}
	args := []string{"serve", "--data", s.data, "--port", fmt.Sprint(s.port), "--seed", "../demo"}
	if s.database != "" {
		args = append(args, "--database", databaseURL(s.database))
	}
	s.cmd = exec.Command(binary, args...)
	s.cmd.Stdout, s.cmd.Stderr = s.log, s.log
	if err := s.cmd.Start(); err != nil {
		return err
	}
	for end := time.Now().Add(90 * time.Second); time.Now().Before(end); time.Sleep(30 * time.Millisecond) {
		res, err := http.Get(s.url() + "/api/jobs")
		if err != nil {
			continue
		}
		_, err = io.Copy(io.Discard, res.Body)
		res.Body.Close()
		if err == nil && res.StatusCode == 200 {
			return nil
		}
	}
	return fmt.Errorf("the server does not come up:\n%s", s.log)
}

// kill ends the server as a power cut would; its database goes on, also where it is in a cluster of its own.
func (s *server) kill() {
	require.NoError(s.t, s.cmd.Process.Kill())
	_ = s.cmd.Wait() // killed, as wanted
}

func (s *server) stop() {
	if s.cmd.ProcessState != nil {
		s.start() // so that the database it left running is stopped with it
	}
	if err := s.cmd.Process.Signal(os.Interrupt); err != nil {
		s.t.Error(err)
	}
	if err := s.cmd.Wait(); err != nil {
		s.t.Errorf("ctrl-C did not end the server cleanly: %v", err)
	}
	if _, err := os.Stat(filepath.Join(s.data, "postgres", "cluster", "postmaster.pid")); err == nil {
		s.t.Error("the database was left running")
	}
}

// databasePID reads the process of the server's database.
func (s *server) databasePID() int {
	b, err := os.ReadFile(filepath.Join(s.data, "postgres", "cluster", "postmaster.pid"))
	require.NoError(s.t, err)
	var pid int
	_, err = fmt.Sscan(strings.SplitN(string(b), "\n", 2)[0], &pid)
	require.NoError(s.t, err)
	return pid
}

func open(t *testing.T) *drive.Browser {
	t.Helper()
	b, err := chromium.Profile(1280, 800)
	require.NoError(t, err)
	t.Cleanup(b.Close)
	return b
}
