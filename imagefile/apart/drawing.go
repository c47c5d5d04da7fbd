package apart

import (
	"context"
	"fmt"
	"runtime"
	"sync"
	"time"

	"episema/imagefile"
)

// Rendering is a drawing that a process of its own has read and renders any number of times. The process is started again
// where it was killed.
type Rendering struct {
	pool *Pool
	svg  []byte
	turn chan struct{} // holds one: the renderer is for one at a time
	at   *running
}

// running is the process of a rendering; apart from it, so that the process ends once nobody holds the rendering.
type running struct {
	mu sync.Mutex
	p  *process
}

func (r *running) kill() {
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.p != nil {
		r.p.kill()
		r.p = nil
	}
}

const (
	openTime = 10 * time.Second
	patience = time.Second // what somebody who left waits for all the same: reading the drawing anew takes longer
)

// OpenDrawing reads a drawing for rendering; see imagefile.OpenDrawing.
func (o *Pool) OpenDrawing(ctx context.Context, svg []byte) (*Rendering, error) {
	r := &Rendering{pool: o, svg: svg, turn: make(chan struct{}, 1), at: &running{}}
	runtime.AddCleanup(r, func(at *running) { go at.kill() }, r.at)
	if err := r.open(ctx); err != nil {
		r.at.kill()
		return nil, err
	}
	return r, nil
}

func (r *Rendering) open(ctx context.Context) error {
	p, err := r.pool.take()
	if err != nil {
		return err
	}
	r.at.mu.Lock()
	r.at.p = p
	r.at.mu.Unlock()
	a, err := p.ask(ctx, call{Op: "open", Data: r.svg, Memory: r.memory(), CPU: 2 * openTime}, openTime, 0)
	if err != nil {
		return err
	}
	return a.err()
}

// RGBA is imagefile.Rendering.RGBA.
func (r *Rendering) RGBA(ctx context.Context, fullW, fullH float64, x, y, w, h int, limit time.Duration) ([]byte, error) {
	select {
	case r.turn <- struct{}{}:
	case <-ctx.Done():
		return nil, ctx.Err()
	}
	defer func() { <-r.turn }()
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	if r.at.p == nil {
		if err := r.open(ctx); err != nil {
			r.at.kill()
			return nil, err
		}
	}
	a, err := r.at.p.ask(ctx, call{Op: "render", FullW: fullW, FullH: fullH, X: x, Y: y, W: w, H: h, Time: limit, Memory: r.memory() + 16*int64(w)*int64(h), CPU: 2 * limit}, limit, patience)
	if err != nil {
		r.at.kill()
		return nil, err
	}
	if err := a.err(); err != nil {
		return nil, err
	}
	if len(a.Data) != 4*w*h {
		r.at.kill()
		return nil, &imagefile.Rejected{Problem: fmt.Sprintf("the drawing gave %d bytes for %d x %d pixels", len(a.Data), w, h)}
	}
	return a.Data, nil
}

// memory is what reading and rendering the drawing may take.
func (r *Rendering) memory() int64 { return room + 512*mib + 60*int64(len(r.svg)) }
