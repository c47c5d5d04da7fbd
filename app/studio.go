package app

import (
	"context"
	"encoding/hex"
	"fmt"
	"io"
	"log/slog"
	"os"
	"path/filepath"
	"sort"
	"sync"
	"time"

	"golang.org/x/sync/semaphore"

	"episema/core/document"
	"episema/core/isolate"
	"episema/core/raster"
	"episema/imagefile"
	"episema/imagefile/apart"
	"episema/store"
)

// Studio is the application: everything a user can do, on one database and one cache folder.
type Studio struct {
	Store  *store.Store
	Limits imagefile.Limits
	Log    *slog.Logger
	// DiskBudget bounds the folder of decoded pictures, in bytes.
	DiskBudget int64

	dir    string // cache folder; all of it is derived data
	memory *cache

	mu        sync.Mutex
	room      *semaphore.Weighted // bytes of views that are being rendered
	readers   *apart.Pool         // processes that read files of others
	open      map[string]*opened
	prepared  map[string]bool // by SHA: pictures of which it was worked out what they are made of
	preparing bool
	wake      map[chan struct{}]string
}

type opened struct {
	pyramid *imagefile.Pyramid
	ready   chan struct{}
	err     error
	users   int
	used    time.Time
	bytes   int64
}

// Defaults of the caches.
const (
	MemoryBudget = 768 << 20
	DiskBudget   = 20 << 30
)

// NewStudio readies the cache folder.
func NewStudio(st *store.Store, cacheDir string, log *slog.Logger) (*Studio, error) {
	for _, d := range []string{"pictures", "tmp"} {
		if err := os.MkdirAll(filepath.Join(cacheDir, d), 0o755); err != nil {
			return nil, err
		}
	}
	return &Studio{Store: st, Limits: imagefile.DefaultLimits(), Log: log, DiskBudget: DiskBudget, dir: cacheDir, room: semaphore.NewWeighted(RenderBudget), readers: apart.NewPool(filepath.Join(cacheDir, "tmp")),
		memory: newCache(MemoryBudget), open: map[string]*opened{}, prepared: map[string]bool{}, wake: map[chan struct{}]string{}}, nil
}

// Close ends what waits in advance. The studio is not used after it.
func (s *Studio) Close() { s.readers.Close() }

func (s *Studio) pictureDir(sha []byte) string {
	return filepath.Join(s.dir, "pictures", hex.EncodeToString(sha))
}

// original gives the path of a picture's file in the cache, fetching it from the database where needed.
func (s *Studio) original(ctx context.Context, sha []byte) (string, error) {
	path := s.pictureDir(sha) + ".original"
	size, err := s.Store.BlobSize(ctx, sha)
	if err != nil {
		return "", fmt.Errorf("the picture's file: %w", err)
	}
	if st, err := os.Stat(path); err == nil && st.Size() == size {
		return path, nil // a crash may have left an empty one
	}
	r, err := s.Store.Blob(ctx, sha)
	if err != nil {
		return "", fmt.Errorf("the picture's file: %w", err)
	}
	f, err := os.CreateTemp(filepath.Join(s.dir, "tmp"), "original-*")
	if err != nil {
		return "", err
	}
	defer os.Remove(f.Name())
	if _, err := io.Copy(f, r); err != nil {
		f.Close()
		return "", err
	}
	if err := f.Sync(); err != nil {
		f.Close()
		return "", err
	}
	if err := f.Close(); err != nil {
		return "", err
	}
	return path, os.Rename(f.Name(), path)
}

// pyramid opens a decoded picture; release says that it is not needed any more.
func (s *Studio) pyramid(ctx context.Context, sha []byte) (p *imagefile.Pyramid, release func(), err error) {
	key := string(sha)
	s.mu.Lock()
	o, ok := s.open[key]
	if !ok {
		o = &opened{ready: make(chan struct{})}
		s.open[key] = o
	}
	o.users++
	o.used = time.Now()
	s.mu.Unlock()
	release = sync.OnceFunc(func() {
		s.mu.Lock()
		defer s.mu.Unlock()
		o.users--
	})
	if !ok {
		// Others may wait for the same picture: one who gives up must not take it from them.
		o.pyramid, o.err = s.load(context.WithoutCancel(ctx), sha)
		if o.err != nil {
			s.mu.Lock()
			delete(s.open, key)
			s.mu.Unlock()
		} else {
			o.bytes = dirSize(s.pictureDir(sha))
		}
		close(o.ready)
		s.trim()
	}
	<-o.ready
	if o.err != nil {
		release()
		return nil, nil, o.err
	}
	return o.pyramid, release, nil
}

func (s *Studio) load(ctx context.Context, sha []byte) (*imagefile.Pyramid, error) {
	dir := s.pictureDir(sha)
	if p, err := imagefile.OpenPyramid(dir); err == nil {
		return p, nil
	}
	if err := os.RemoveAll(dir); err != nil {
		return nil, err
	}
	path, err := s.original(ctx, sha)
	if err != nil {
		return nil, err
	}
	return s.readers.BuildPyramid(ctx, path, dir, s.Limits)
}

func dirSize(dir string) int64 {
	var n int64
	files, _ := os.ReadDir(dir) // a folder that is gone has no size
	for _, f := range files {
		if i, err := f.Info(); err == nil {
			n += i.Size()
		}
	}
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
	total := int64(0)
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
		if total <= s.DiskBudget {
			return
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

// memo and solved keep what depends on one picture's pixels in the memory cache.
type memo struct {
	ctx context.Context // of who asks
	c   *cache
	sha string
}

func (m memo) Do(key string, f func(done raster.Done) (any, error)) (any, error) {
	return m.c.do(m.ctx, "part|"+m.sha+"|"+key, bytesOf, func(ctx context.Context) (any, error) { return f(ctx.Done()) })
}

// bytesOf estimates what a remembered thing takes.
func bytesOf(v any) int64 {
	switch v := v.(type) {
	case interface{ Bytes() int }:
		return int64(v.Bytes())
	case *raster.RGB:
		return int64(4 * len(v.Pix))
	case []*raster.Mask:
		n := int64(0)
		for _, m := range v {
			if m != nil {
				n += int64(2 * len(m.Pix))
			}
		}
		return n
	}
	return 4 << 10
}

func (m memo) Get(key [32]byte) (any, bool) { return m.c.get("solved|" + m.sha + "|" + string(key[:])) }

func (m memo) Put(key [32]byte, v any, bytes int) {
	m.c.put("solved|"+m.sha+"|"+string(key[:]), v, int64(bytes))
}

// develop makes a document ready to render.
func (s *Studio) develop(ctx context.Context, p *imagefile.Pyramid, pic store.Picture, doc document.Picture, effort isolate.Effort) (*document.Developed, error) {
	src, err := s.source(ctx, p, pic, doc)
	if err != nil {
		return nil, err
	}
	m := memo{ctx, s.memory, string(pic.SHA)}
	return document.Develop(src, doc, m, m, effort)
}

// SpaceName gives the name of the colour space a picture's pixels are in.
func (s *Studio) SpaceName(ctx context.Context, sha []byte) (string, error) {
	p, release, err := s.pyramid(ctx, sha)
	if err != nil {
		return "", err
	}
	defer release()
	return p.Space.Name, nil
}
