// Package derived keeps in a folder what follows from the originals: their files, their decoded levels, and what is just being made.
// All of it can be made again; deleting the folder loses nothing.
package derived

import (
	"context"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"log/slog"
	"os"
	"path/filepath"
	"sort"
	"sync"
	"time"

	"episema/imagefile"
	"episema/imagefile/apart"
	"episema/internal/memo"
)

// Originals is where the pictures' own files are, by the SHA-256 of their bytes.
type Originals interface {
	BlobSize(ctx context.Context, sha []byte) (int64, error)
	Blob(ctx context.Context, sha []byte) (io.Reader, error)
}

// Folder is the folder with what is open of it.
type Folder struct {
	Limits  imagefile.Limits // of the files that are read
	Readers *apart.Pool      // processes that read files of others

	dir    string
	from   Originals
	budget int64 // bytes on the disk
	log    *slog.Logger

	mu        sync.Mutex
	open      map[string]*opened // by SHA: decoded pictures at hand
	originals map[string]int     // by path: files of pictures that are being read
	loading   memo.Makings
}

// opened is a decoded picture.
type opened struct {
	pyramid *imagefile.Pyramid
	users   int
	used    time.Time
}

// Open readies a folder, making it where it is not there.
func Open(dir string, from Originals, budget int64, log *slog.Logger) (*Folder, error) {
	for _, d := range []string{"pictures", "tmp"} {
		if err := os.MkdirAll(filepath.Join(dir, d), 0o755); err != nil {
			return nil, err
		}
	}
	return &Folder{Limits: imagefile.DefaultLimits(), Readers: apart.NewPool(filepath.Join(dir, "tmp")), dir: dir, from: from, budget: budget, log: log,
		open: map[string]*opened{}, originals: map[string]int{}}, nil
}

// Close ends what waits in advance. The folder is not used after it.
func (f *Folder) Close() { f.Readers.Close() }

// Making returns the path of the folder for what is being made.
func (f *Folder) Making() string { return filepath.Join(f.dir, "tmp") }

func (f *Folder) pictureDir(sha []byte) string {
	return filepath.Join(f.dir, "pictures", hex.EncodeToString(sha))
}

// Adopt takes a picture that was decoded into a folder of its own as the decoded picture of a file. Where it is there already the
// other one goes.
func (f *Folder) Adopt(made string, sha []byte) error {
	to := f.pictureDir(sha)
	if err := os.Rename(made, to); err != nil && !errors.Is(err, os.ErrExist) {
		if _, statErr := os.Stat(to); statErr != nil {
			return err
		}
	}
	return nil
}

// Spool writes a stream of at most so many bytes to a temporary file; done removes it. A longer one is an *imagefile.Rejected.
func (f *Folder) Spool(r io.Reader, pattern string, most int64) (path string, done func(), err error) {
	to, err := os.CreateTemp(f.Making(), pattern)
	if err != nil {
		return "", nil, err
	}
	n, err := io.Copy(to, io.LimitReader(r, most+1))
	if err != nil {
		err = fmt.Errorf("the file broke off: %w", err)
	}
	if closeErr := to.Close(); err == nil {
		err = closeErr
	}
	if err == nil && n > most {
		err = &imagefile.Rejected{Problem: fmt.Sprintf("the file has more than %d MB, which is the most that is taken", most>>20)}
	}
	if err != nil {
		os.Remove(to.Name())
		return "", nil, err
	}
	return to.Name(), func() { os.Remove(to.Name()) }, nil
}

// Original gives the path of a picture's file in the cache, fetching it from the database where needed. It stays there until
// release is called.
func (f *Folder) Original(ctx context.Context, sha []byte) (path string, release func(), err error) {
	path = f.pictureDir(sha) + ".original"
	f.mu.Lock()
	f.originals[path]++
	f.mu.Unlock()
	release = sync.OnceFunc(func() {
		f.mu.Lock()
		defer f.mu.Unlock()
		if f.originals[path]--; f.originals[path] == 0 {
			delete(f.originals, path)
		}
	})
	if err := f.fetch(ctx, sha, path); err != nil {
		release()
		return "", nil, err
	}
	return path, release, nil
}

// fetch brings a picture's file from the database to a path.
func (f *Folder) fetch(ctx context.Context, sha []byte, path string) error {
	size, err := f.from.BlobSize(ctx, sha)
	if err != nil {
		return fmt.Errorf("the picture's file: %w", err)
	}
	if st, err := os.Stat(path); err == nil && st.Size() == size { // a crash may have left an empty one
		now := time.Now()
		return os.Chtimes(path, now, now) // what was used last goes last
	}
	r, err := f.from.Blob(ctx, sha)
	if err != nil {
		return fmt.Errorf("the picture's file: %w", err)
	}
	to, err := os.CreateTemp(f.Making(), "original-*")
	if err != nil {
		return err
	}
	defer os.Remove(to.Name())
	defer to.Close()
	if _, err := io.Copy(to, r); err != nil {
		return err
	}
	if err := to.Sync(); err != nil {
		return err
	}
	if err := to.Close(); err != nil {
		return err
	}
	return os.Rename(to.Name(), path)
}

// Pyramid opens a decoded picture, decoding it where needed for as long as somebody waits for it; release says that it is not
// needed any more.
func (f *Folder) Pyramid(ctx context.Context, sha []byte) (p *imagefile.Pyramid, release func(), err error) {
	key := string(sha)
	loaded := false
	for {
		f.mu.Lock()
		o := f.open[key]
		if o != nil {
			o.users++
			o.used = time.Now()
		}
		f.mu.Unlock()
		if o != nil {
			if loaded {
				f.Trim()
			}
			return o.pyramid, sync.OnceFunc(func() {
				f.mu.Lock()
				defer f.mu.Unlock()
				o.users--
			}), nil
		}
		_, err := f.loading.Do(ctx, key, func(ctx context.Context) (any, error) {
			f.mu.Lock()
			there := f.open[key] != nil
			f.mu.Unlock()
			if there {
				return nil, nil
			}
			p, err := f.load(ctx, sha)
			if err != nil {
				return nil, err
			}
			f.mu.Lock()
			defer f.mu.Unlock()
			f.open[key] = &opened{pyramid: p, used: time.Now()}
			loaded = true
			return nil, nil
		})
		if err != nil {
			return nil, nil, err
		}
	}
}

func (f *Folder) load(ctx context.Context, sha []byte) (*imagefile.Pyramid, error) {
	dir := f.pictureDir(sha)
	if p, err := imagefile.OpenPyramid(dir); err == nil {
		return p, nil
	}
	if err := os.RemoveAll(dir); err != nil {
		return nil, err
	}
	path, release, err := f.Original(ctx, sha)
	if err != nil {
		return nil, err
	}
	defer release()
	return f.Readers.BuildPyramid(ctx, path, dir, f.Limits)
}

// Size returns what the files in a folder take; one that is gone takes nothing.
func Size(dir string) (n int64) {
	_ = filepath.WalkDir(dir, func(_ string, e fs.DirEntry, err error) error {
		if err == nil && !e.IsDir() {
			if i, err := e.Info(); err == nil {
				n += i.Size()
			}
		}
		return nil // files go while they are counted
	})
	return n
}

// Trim removes decoded pictures nobody uses, the longest unused first, until the budget is met.
func (f *Folder) Trim() {
	f.mu.Lock()
	defer f.mu.Unlock()
	entries, err := os.ReadDir(filepath.Join(f.dir, "pictures"))
	if err != nil {
		f.log.Warn("cache not trimmed", "error", err)
		return
	}
	type dir struct {
		path string
		used time.Time
		size int64
		key  string
	}
	var dirs []dir
	total := Size(filepath.Join(f.dir, "tmp")) // what is being made lies on the same disk
	for _, e := range entries {
		i, err := e.Info()
		if err != nil {
			continue
		}
		path := filepath.Join(f.dir, "pictures", e.Name())
		d := dir{path: path, used: i.ModTime(), size: i.Size()}
		if e.IsDir() {
			d.size = Size(path)
			if sha, err := hex.DecodeString(e.Name()); err == nil {
				d.key = string(sha)
			}
			if o := f.open[d.key]; o != nil {
				d.used = o.used
			}
		}
		total += d.size
		dirs = append(dirs, d)
	}
	sort.Slice(dirs, func(a, b int) bool { return dirs[a].used.Before(dirs[b].used) })
	for _, d := range dirs {
		if total <= f.budget {
			return
		}
		if f.originals[d.path] > 0 {
			continue
		}
		if o := f.open[d.key]; o != nil {
			if o.users > 0 {
				continue
			}
			o.pyramid.Close()
			delete(f.open, d.key)
		}
		if err := os.RemoveAll(d.path); err != nil {
			f.log.Warn("cache not trimmed", "path", d.path, "error", err)
			continue
		}
		total -= d.size
	}
}
