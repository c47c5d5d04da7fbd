// Package app is what a user can do, as plain Go: open, isolate, recolour, prove, deliver.
package app

import (
	"context"
	"log/slog"
	"os"

	"golang.org/x/sync/semaphore"

	"episema/app/derived"
	"episema/app/pictureshelf"
	"episema/app/revisions"
	"episema/app/swatchreader"
	"episema/core/develop"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/raster"
	"episema/imagefile"
	"episema/internal/memo"
	"episema/store"
)

// Studio is the application: everything a user can do, on one database and one cache folder.
type Studio struct {
	Store   *store.Store
	Log     *slog.Logger
	Budgets Budgets
	// Reader and Shelf are what is outside: a swatch reader, a service that lends pictures.
	Reader swatchreader.Reader
	Shelf  pictureshelf.Shelf

	// Revisions tells of changes, here and on other servers.
	Revisions *revisions.Watch

	derived *derived.Folder     // what follows from the originals, on the disk
	memory  *memo.Cache         // and in memory
	room    *semaphore.Weighted // bytes of views that are being rendered
	hands   hands
	ahead   ahead
}

// NewStudio readies the cache folder.
func NewStudio(st *store.Store, cacheDir string, log *slog.Logger, b Budgets) (*Studio, error) {
	if err := os.MkdirAll(cacheDir, 0o755); err != nil {
		return nil, err
	}
	b, err := b.filled(cacheDir)
	if err != nil {
		return nil, err
	}
	folder, err := derived.Open(cacheDir, st, b.Disk, log)
	if err != nil {
		return nil, err
	}
	return &Studio{Store: st, Log: log, Budgets: b, Revisions: revisions.New(st, log), derived: folder,
		memory: memo.New(b.caches()), room: semaphore.NewWeighted(b.views())}, nil
}

// Close ends what waits in advance. The studio is not used after it.
func (s *Studio) Close() { s.derived.Close() }

// picked keeps what was worked out about one picture's pixels: the core's door to the memory.
type picked struct {
	ctx   context.Context // of who asks
	cache *memo.Cache
	sha   string
}

func (p picked) Do(key string, f func(done raster.Done) (any, error)) (any, error) {
	return memo.Get(p.ctx, p.cache, "part|"+p.sha+"|"+key, bytesOf, func(ctx context.Context) (any, error) { return f(ctx.Done()) })
}

func (p picked) Get(key [32]byte) (any, bool) {
	return memo.Look[any](p.cache, "solved|"+p.sha+"|"+string(key[:]))
}

func (p picked) Put(key [32]byte, v any, bytes int) {
	p.cache.Put("solved|"+p.sha+"|"+string(key[:]), v, int64(bytes))
}

func bytesOfMask(m *raster.Mask) int64 { return int64(2 * len(m.Pix)) }

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
				n += bytesOfMask(m)
			}
		}
		return n
	}
	return 4 << 10
}

// develop makes a document ready to render.
func (s *Studio) develop(ctx context.Context, p *imagefile.Pyramid, pic store.Picture, doc document.Picture, effort isolate.Effort) (*develop.Developed, error) {
	src, err := s.source(ctx, p, pic, doc)
	if err != nil {
		return nil, err
	}
	m := picked{ctx, s.memory, string(pic.SHA)}
	return develop.Develop(src, doc, m, m, effort)
}

// SpaceName returns the name of the colour space that a picture's pixels are in.
func (s *Studio) SpaceName(ctx context.Context, pic store.Picture) (string, error) {
	return s.mediumOf(pic, document.Picture{}).space(ctx)
}
