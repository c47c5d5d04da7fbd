package isolate

import "episema/core/raster"

// watched is a pyramid whose reader may leave: work on it ends with raster.ErrStopped once done is closed.
type watched struct {
	Pyramid
	done raster.Done
}

// Until gives a picture work on which ends early, with raster.ErrStopped, once done is closed.
func Until(p Pyramid, done raster.Done) Pyramid { return watched{bare(p), done} }

// readAtOnce is how many pixels are read between two looks whether the reader has left.
const readAtOnce = 1 << 20

func (w watched) Linear(level int, r raster.Rect) (*raster.RGB, error) {
	strip := max(1, readAtOnce/max(1, r.W()))
	var out *raster.RGB
	for y := r.Y0; y == r.Y0 || y < r.Y1; y += strip {
		select {
		case <-w.done:
			return nil, raster.ErrStopped
		default:
		}
		q := raster.Rect{X0: r.X0, Y0: y, X1: r.X1, Y1: min(r.Y1, y+strip)}
		part, err := w.Pyramid.Linear(level, q)
		if err != nil || q == r {
			return part, err
		}
		if out == nil {
			out = raster.NewRGB(r.W(), r.H())
		}
		copy(out.Pix[3*(y-r.Y0)*r.W():], part.Pix)
	}
	return out, nil
}

// doneOf gives what ends work on a picture early.
func doneOf(p Pyramid) raster.Done {
	if w, ok := p.(watched); ok {
		return w.done
	}
	return nil
}

// bare gives the picture itself: what is kept outlives who asked for it.
func bare(p Pyramid) Pyramid {
	if w, ok := p.(watched); ok {
		return w.Pyramid
	}
	return p
}

// On gives a selection that reads the same picture through another pyramid: the one that it was compiled with may be closed by now.
func (s *Selection) On(p Pyramid) *Selection {
	o := *s
	o.pyramid = p
	return &o
}

// Until gives a selection whose rendering ends early once done is closed.
func (s *Selection) Until(done raster.Done) *Selection { return s.On(Until(s.pyramid, done)) }
