package app

import (
	"context"
	"log/slog"
	"os"
	"path/filepath"
	"sync"

	"golang.org/x/sync/semaphore"

	"episema/core/develop"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/raster"
	"episema/imagefile"
	"episema/imagefile/apart"
	"episema/store"
)

// Studio is the application: everything a user can do, on one database and one cache folder.
type Studio struct {
	Store   *store.Store
	Limits  imagefile.Limits
	Log     *slog.Logger
	Budgets Budgets
	// ReaderAt is the address of the swatch reader, host:port; empty where there is none.
	ReaderAt string
	// ShelfAt is the web address of the picture shelf; empty where there is none.
	ShelfAt string

	dir    string // cache folder; all of it is derived data
	memory *cache

	mu        sync.Mutex
	room      *semaphore.Weighted // bytes of views that are being rendered
	hands     hands
	readers   *apart.Pool        // processes that read files of others
	open      map[string]*opened // by SHA: decoded pictures at hand
	loading   flights
	originals map[string]int  // by path: files of pictures that are being read
	prepared  map[string]bool // by SHA: pictures of which it was worked out what they are made of
	preparing bool
	wake      map[chan struct{}]map[string]bool // who waits for which pictures
}

// NewStudio readies the cache folder.
func NewStudio(st *store.Store, cacheDir string, log *slog.Logger, b Budgets) (*Studio, error) {
	for _, d := range []string{"pictures", "tmp"} {
		if err := os.MkdirAll(filepath.Join(cacheDir, d), 0o755); err != nil {
			return nil, err
		}
	}
	b, err := b.filled(cacheDir)
	if err != nil {
		return nil, err
	}
	return &Studio{Store: st, Limits: imagefile.DefaultLimits(), Log: log, Budgets: b, dir: cacheDir, room: semaphore.NewWeighted(b.views()), readers: apart.NewPool(filepath.Join(cacheDir, "tmp")),
		memory: newCache(b.caches()), open: map[string]*opened{}, originals: map[string]int{}, prepared: map[string]bool{}, wake: map[chan struct{}]map[string]bool{}}, nil
}

// Close ends what waits in advance. The studio is not used after it.
func (s *Studio) Close() { s.readers.Close() }

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
func (s *Studio) develop(ctx context.Context, p *imagefile.Pyramid, pic store.Picture, doc document.Picture, effort isolate.Effort) (*develop.Developed, error) {
	src, err := s.source(ctx, p, pic, doc)
	if err != nil {
		return nil, err
	}
	m := memo{ctx, s.memory, string(pic.SHA)}
	return develop.Develop(src, doc, m, m, effort)
}

// SpaceName returns the name of the colour space that a picture's pixels are in.
func (s *Studio) SpaceName(ctx context.Context, pic store.Picture) (string, error) {
	return s.mediumOf(pic, document.Picture{}).space(ctx)
}
