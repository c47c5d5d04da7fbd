package e2e

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"episema/e2e/drive"
	"episema/internal/testdb"
)

var (
	binary   string
	finished string         // the folder of a server that holds the demo, as it ships
	seeded   string         // the same without what was done in it, so that tests begin at the beginning
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
	t    *testing.T
	data string
	port int
	cmd  *exec.Cmd
	log  *syncBuffer
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

func newServer(t *testing.T) *server { return newServerOf(t, seeded) }

// newServerOf starts a server with a copy of a folder.
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
	s.cmd = exec.Command(binary, "serve", "--data", s.data, "--port", fmt.Sprint(s.port), "--seed", "../demo")
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

// kill ends the server as a power cut would; its database goes on.
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
