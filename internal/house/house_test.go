// Package house holds the rules of the tree that no compiler knows: which room may ask which.
package house

import (
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// imports lists what each package of the project imports, tests apart, whichever processor or system a file is for. It reads the files
// itself: a test that has another process read them is passed from the cache when they change.
func imports(t *testing.T) map[string][]string {
	t.Helper()
	root := filepath.Join("..", "..")
	all := map[string][]string{}
	for _, room := range []string{"api", "app", "cmd", "core", "imagefile", "store"} {
		require.NoError(t, filepath.WalkDir(filepath.Join(root, room), func(path string, d fs.DirEntry, err error) error {
			if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
				return err
			}
			f, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.ImportsOnly)
			if err != nil {
				return err
			}
			dir, err := filepath.Rel(root, filepath.Dir(path))
			if err != nil {
				return err
			}
			pkg := "episema/" + filepath.ToSlash(dir)
			for _, i := range f.Imports {
				name, err := strconv.Unquote(i.Path.Value)
				if err != nil {
					return err
				}
				all[pkg] = append(all[pkg], name)
			}
			return nil
		}))
	}
	require.Greater(t, len(all), 15)
	return all
}

func TestImportsGoOneWay(t *testing.T) {
	// What each may ask, beside itself and what lies in it.
	may := map[string][]string{
		"episema/core":      {},
		"episema/store":     {},
		"episema/imagefile": {"episema/core"},
		"episema/app":       {"episema/core", "episema/imagefile", "episema/store", "episema/internal/memo", "episema/internal/problem"},
		"episema/api":       {"episema/core", "episema/app", "episema/internal/problem"},
	}
	in := func(path, room string) bool { return path == room || strings.HasPrefix(path, room+"/") }
	for path, list := range imports(t) {
		for room, asks := range may {
			if !in(path, room) {
				continue
			}
			for _, i := range list {
				ok := !strings.HasPrefix(i, "episema/") || in(i, room)
				for _, a := range asks {
					ok = ok || in(i, a)
				}
				assert.True(t, ok, "%s imports %s", path, i)
			}
		}
		// The rooms of app know nothing of each other.
		if strings.HasPrefix(path, "episema/app/") {
			for _, i := range list {
				assert.False(t, in(i, "episema/app"), "%s imports %s", path, i)
			}
		}
	}
}

// The core computes: it opens no file, knows no database and no network, and of other people's code it takes only what reads
// style sheets and markup, and colour names and coverage from golang.org/x. What the processor can do, one package asks.
func TestTheCoreOnlyComputes(t *testing.T) {
	outside := []string{"golang.org/x/image/", "golang.org/x/net/html", "github.com/tdewolff/parse/v2", "github.com/andybalholm/cascadia"}
	for path, list := range imports(t) {
		if !strings.HasPrefix(path, "episema/core/") {
			continue
		}
		for _, i := range list {
			switch {
			case i == "os" || i == "net" || strings.HasPrefix(i, "net/") || strings.HasPrefix(i, "os/") || strings.HasPrefix(i, "database/"):
				t.Errorf("%s imports %s", path, i)
			case strings.Contains(strings.Split(i, "/")[0], "."):
				known := i == "golang.org/x/sys/cpu" && path == "episema/core/internal/processor"
				for _, o := range outside {
					known = known || strings.HasPrefix(i, o)
				}
				assert.True(t, known, "%s imports %s", path, i)
			}
		}
	}
}
