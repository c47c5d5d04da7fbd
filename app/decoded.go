package app

import (
	"context"
	"encoding/hex"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"sort"
	"sync"
	"time"

	"episema/imagefile"
)

// opened is a decoded picture.
type opened struct {
	pyramid *imagefile.Pyramid
	users   int
	used    time.Time
}

func (s *Studio) pictureDir(sha []byte) string {
	return filepath.Join(s.dir, "pictures", hex.EncodeToString(sha))
}

// original gives the path of a picture's file in the cache, fetching it from the database where needed. It stays there until
// release is called.
func (s *Studio) original(ctx context.Context, sha []byte) (path string, release func(), err error) {
	path = s.pictureDir(sha) + ".original"
	s.mu.Lock()
	s.originals[path]++
	s.mu.Unlock()
	release = sync.OnceFunc(func() {
		s.mu.Lock()
		defer s.mu.Unlock()
		if s.originals[path]--; s.originals[path] == 0 {
			delete(s.originals, path)
		}
	})
	if err := s.fetch(ctx, sha, path); err != nil {
		release()
		return "", nil, err
	}
	return path, release, nil
}

// fetch brings a picture's file from the database to a path.
func (s *Studio) fetch(ctx context.Context, sha []byte, path string) error {
	size, err := s.Store.BlobSize(ctx, sha)
	if err != nil {
		return fmt.Errorf("the picture's file: %w", err)
	}
	if st, err := os.Stat(path); err == nil && st.Size() == size { // a crash may have left an empty one
		now := time.Now()
		return os.Chtimes(path, now, now) // what was used last goes last
	}
	r, err := s.Store.Blob(ctx, sha)
	if err != nil {
		return fmt.Errorf("the picture's file: %w", err)
	}
	f, err := os.CreateTemp(filepath.Join(s.dir, "tmp"), "original-*")
	if err != nil {
		return err
	}
	defer os.Remove(f.Name())
	defer f.Close()
	if _, err := io.Copy(f, r); err != nil {
		return err
	}
	if err := f.Sync(); err != nil {
		return err
	}
	if err := f.Close(); err != nil {
		return err
	}
	return os.Rename(f.Name(), path)
}

// pyramid opens a decoded picture, decoding it where needed for as long as somebody waits for it; release says that it is not
// needed any more.
func (s *Studio) pyramid(ctx context.Context, sha []byte) (p *imagefile.Pyramid, release func(), err error) {
	key := string(sha)
	loaded := false
	for {
		s.mu.Lock()
		o := s.open[key]
		if o != nil {
			o.users++
			o.used = time.Now()
		}
		s.mu.Unlock()
		if o != nil {
			if loaded {
				s.trim()
			}
			return o.pyramid, sync.OnceFunc(func() {
				s.mu.Lock()
				defer s.mu.Unlock()
				o.users--
			}), nil
		}
		_, err := s.loading.do(ctx, key, func(ctx context.Context) (any, error) {
			s.mu.Lock()
			there := s.open[key] != nil
			s.mu.Unlock()
			if there {
				return nil, nil
			}
			p, err := s.load(ctx, sha)
			if err != nil {
				return nil, err
			}
			s.mu.Lock()
			defer s.mu.Unlock()
			s.open[key] = &opened{pyramid: p, used: time.Now()}
			loaded = true
			return nil, nil
		})
		if err != nil {
			return nil, nil, err
		}
	}
}

func (s *Studio) load(ctx context.Context, sha []byte) (*imagefile.Pyramid, error) {
	dir := s.pictureDir(sha)
	if p, err := imagefile.OpenPyramid(dir); err == nil {
		return p, nil
	}
	if err := os.RemoveAll(dir); err != nil {
		return nil, err
	}
	path, release, err := s.original(ctx, sha)
	if err != nil {
		return nil, err
	}
	defer release()
	return s.readers.BuildPyramid(ctx, path, dir, s.Limits)
}

// dirSize gives what the files in a folder take; one that is gone takes nothing.
func dirSize(dir string) (n int64) {
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

// trim removes decoded pictures nobody uses, the longest unused first, until the budget is met.
func (s *Studio) trim() {
	s.mu.Lock()
	defer s.mu.Unlock()
	entries, err := os.ReadDir(filepath.Join(s.dir, "pictures"))
	if err != nil {
		s.Log.Warn("cache not trimmed", "error", err)
		return
	}
	type dir struct {
		path string
		used time.Time
		size int64
		key  string
	}
	var dirs []dir
	total := dirSize(filepath.Join(s.dir, "tmp")) // what is being made lies on the same disk
	for _, e := range entries {
		i, err := e.Info()
		if err != nil {
			continue
		}
		path := filepath.Join(s.dir, "pictures", e.Name())
		d := dir{path: path, used: i.ModTime(), size: i.Size()}
		if e.IsDir() {
			d.size = dirSize(path)
			if sha, err := hex.DecodeString(e.Name()); err == nil {
				d.key = string(sha)
			}
			if o := s.open[d.key]; o != nil {
				d.used = o.used
			}
		}
		total += d.size
		dirs = append(dirs, d)
	}
	sort.Slice(dirs, func(a, b int) bool { return dirs[a].used.Before(dirs[b].used) })
	for _, d := range dirs {
		if total <= s.Budgets.Disk {
			return
		}
		if s.originals[d.path] > 0 {
			continue
		}
		if o := s.open[d.key]; o != nil {
			if o.users > 0 {
				continue
			}
			o.pyramid.Close()
			delete(s.open, d.key)
		}
		if err := os.RemoveAll(d.path); err != nil {
			s.Log.Warn("cache not trimmed", "path", d.path, "error", err)
			continue
		}
		total -= d.size
	}
}
