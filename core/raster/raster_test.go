package raster

import (
	"io"
	"math"
	"math/rand"
	"runtime"
	"slices"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestBoxSumAgainstAddingUp(t *testing.T) {
	rnd := rand.New(rand.NewSource(1))
	for _, size := range [][3]int{{1, 1, 3}, {7, 5, 1}, {5, 9, 2}, {4, 4, 6}, {30, 3, 2}} {
		w, h, r := size[0], size[1], size[2]
		p := make([]float32, w*h)
		for i := range p {
			p[i] = float32(rnd.Intn(10))
		}
		want := make([]float32, w*h)
		for y := range h {
			for x := range w {
				for yy := max(0, y-r); yy <= min(h-1, y+r); yy++ {
					for xx := max(0, x-r); xx <= min(w-1, x+r); xx++ {
						want[y*w+x] += p[yy*w+xx]
					}
				}
			}
		}
		BoxSum(p, w, h, r)
		assert.InDeltaSlice(t, want, p, 1e-3, "%v", size)
	}
}

func TestShrinkKeepsTheMeanAndWholeStepsAreExact(t *testing.T) {
	rnd := rand.New(rand.NewSource(2))
	const w, h = 60, 60
	p := make([]float32, w*h*3)
	for i := range p {
		p[i] = rnd.Float32()
	}
	mean := func(v []float32) (m float64) {
		for _, x := range v {
			m += float64(x)
		}
		return m / float64(len(v))
	}
	for _, step := range []float64{1, 1.25, 1.5, 2} {
		o := Shrink(p, w, h, 3, 0, 0, step, int(w/step), int(h/step))
		require.Len(t, o, int(w/step)*int(h/step)*3)
		assert.InDelta(t, mean(p), mean(o), 1e-4, "step %v", step)
	}
	same := Shrink(p, w, h, 3, 10, 5, 1, 20, 10)
	for y := range 10 {
		assert.Equal(t, p[3*((y+5)*w+10):3*((y+5)*w+30)], same[3*y*20:3*(y+1)*20])
	}
	beyond := Shrink(p, w, h, 3, -2, -2, 1, 4, 4)
	assert.Equal(t, p[:3], beyond[:3], "outside, the nearest inside")
}

// Shrink against the integral of the picture as squares, taken from sums of rows and columns.
func TestShrinkIsTheMeanOverEachSquare(t *testing.T) {
	rnd := rand.New(rand.NewSource(3))
	const w, h = 23, 17
	p := make([]float32, w*h)
	for i := range p {
		p[i] = rnd.Float32()
	}
	// cover is the part of pixel k of n that lies between a and b.
	cover := func(a, b float64, k int) float64 {
		return math.Max(0, math.Min(b, float64(k+1))-math.Max(a, float64(k)))
	}
	for range 200 {
		step := 1 + 3*rnd.Float64()
		x0, y0 := 8*rnd.Float64(), 8*rnd.Float64()
		ow, oh := 1+int((w-x0)/step)/2, 1+int((h-y0)/step)/2
		got := Shrink(p, w, h, 1, x0, y0, step, ow, oh)
		for y := range oh {
			for x := range ow {
				ax, bx := x0+float64(x)*step, math.Min(w, x0+float64(x+1)*step)
				ay, by := y0+float64(y)*step, math.Min(h, y0+float64(y+1)*step)
				sum, n := 0.0, 0.0
				for yy := range h {
					for xx := range w {
						a := cover(ax, bx, xx) * cover(ay, by, yy)
						sum, n = sum+a*float64(p[yy*w+xx]), n+a
					}
				}
				require.InDelta(t, sum/n, got[y*ow+x], 1e-5, "step %g from %g, %g", step, x0, y0)
			}
		}
	}
	// Enlarged, each is the pixel it lies in.
	got := Shrink(p, w, h, 1, 2, 3, 0.25, 16, 16)
	for y := range 16 {
		for x := range 16 {
			require.Equal(t, p[(3+y/4)*w+2+x/4], got[y*16+x])
		}
	}
}

func TestShrinkTreatsEachChannelAlike(t *testing.T) {
	rnd := rand.New(rand.NewSource(5))
	const w, h = 19, 13
	for range 300 {
		ch := 2 + rnd.Intn(3)
		p, one := make([]float32, w*h*ch), make([]float32, w*h)
		for i := range p {
			p[i] = rnd.Float32()
		}
		step := []float64{0.4, 1, 1, 1.5, 1 + 3*rnd.Float64()}[rnd.Intn(5)]
		x0, y0 := float64(rnd.Intn(9)-3), float64(rnd.Intn(9)-3)
		if rnd.Intn(2) == 0 {
			x0, y0 = x0+rnd.Float64(), y0+rnd.Float64()
		}
		const ow, oh = 17, 11 // beyond the edge for most
		got := Shrink(p, w, h, ch, x0, y0, step, ow, oh)
		for c := range ch {
			for i := range one {
				one[i] = p[i*ch+c]
			}
			for i, v := range Shrink(one, w, h, 1, x0, y0, step, ow, oh) {
				require.Equal(t, v, got[i*ch+c], "channel %d of %d, step %g from %g, %g", c, ch, step, x0, y0)
			}
		}
	}
}

func TestHalfAveragesLight(t *testing.T) {
	p := &RGB{W: 3, H: 1, Pix: []float32{0, 0, 0, 1, 1, 1, 0.5, 0.5, 0.5}}
	o := Half(p)
	assert.Equal(t, [2]int{2, 1}, [2]int{o.W, o.H})
	assert.InDeltaSlice(t, []float32{0.5, 0.5, 0.5, 0.5, 0.5, 0.5}, o.Pix, 1e-6)
	assert.Equal(t, 2, LevelSize(3, 1))
	assert.Equal(t, 1, LevelSize(1, 9))
}

func TestParallelVisitsEachOnce(t *testing.T) {
	seen := make([]atomic.Int32, 1000)
	Parallel(len(seen), func(i int) { seen[i].Add(1) })
	for i := range seen {
		require.EqualValues(t, 1, seen[i].Load())
	}
	Parallel(0, func(int) { t.Fatal("there is nothing to visit") })
}

func TestRectangles(t *testing.T) {
	r := Rect{0, 0, 10, 10}
	assert.Equal(t, Rect{8, 8, 10, 10}, r.And(Rect{8, 8, 30, 30}))
	assert.True(t, r.And(Rect{10, 0, 12, 5}).Empty())
	assert.Equal(t, 0, Rect{5, 5, 2, 2}.W())
	assert.Equal(t, [2]int{3, 4}, [2]int{Rect{5, 6, 8, 10}.W(), Rect{5, 6, 8, 10}.H()})
	assert.Equal(t, Rect{3, 4, 10, 12}, Rect{5, 6, 8, 10}.Grow(2))
	assert.False(t, math.Signbit(float64(r.Grow(-3).W())))
}

func TestAPanicInParallelIsTheCallers(t *testing.T) {
	defer func() {
		v := recover()
		p, ok := v.(*Panic)
		require.True(t, ok, "it can be recovered from: %v", v)
		assert.Equal(t, "broken", p.Value)
		assert.Contains(t, p.Error(), "goroutine")
	}()
	Parallel(64, func(i int) {
		if i == 7 {
			panic("broken")
		}
	})
	t.Fatal("it went on")
}

// What is read a few rows at a time becomes the same, to the last bit; who cannot read says so.
func TestWhatIsReadOnTheWayShrinksToTheSame(t *testing.T) {
	const w, h, ow, oh = 130, 700, 61, 330
	r := rand.New(rand.NewSource(3))
	p := make([]float32, w*h*3)
	for i := range p {
		p[i] = r.Float32()
	}
	var most, calls atomic.Int64
	read := func(from, to int) ([]float32, error) {
		calls.Add(1)
		most.Store(max(most.Load(), int64(to-from)))
		return slices.Clone(p[from*w*3 : to*w*3]), nil
	}
	got, err := ShrinkFrom(read, w, h, 3, -1.5, 2.25, 2.1, ow, oh)
	require.NoError(t, err)
	assert.Equal(t, Shrink(p, w, h, 3, -1.5, 2.25, 2.1, ow, oh), got)
	assert.Less(t, most.Load(), int64(80), "rows at a time")
	calls.Store(0)
	_, err = ShrinkFrom(func(from, to int) ([]float32, error) {
		_, _ = read(from, to)
		return nil, io.ErrUnexpectedEOF
	}, w, h, 3, 0, 0, 2.1, ow, oh)
	assert.ErrorIs(t, err, io.ErrUnexpectedEOF)
	assert.LessOrEqual(t, calls.Load(), int64(runtime.GOMAXPROCS(0)), "nothing is read after that")
}
