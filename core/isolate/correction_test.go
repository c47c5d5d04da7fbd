package isolate

import (
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Whoever strokes through what is missing loses nothing by it, and whoever strokes through what is too much is given nothing.
func TestACorrectionIsNeverPaidForElsewhere(t *testing.T) {
	changed := 0
	for seed := int64(1); seed <= 3; seed++ {
		rnd := rand.New(rand.NewSource(seed))
		for _, p := range []*flat{newPyramid(patched(seed)), newPyramid(bunch(seed))} {
			c := &compiler{p: p, solved: kept{}, effort: Exact}
			strokes := []seeded{{stroke(5, [2]float64{80, 90}, [2]float64{100, 110}), true}}
			was, err := c.swept(strokes, nil)
			require.NoError(t, err)
			for range 3 {
				// A short stroke somewhere the answer is wrong, as this hand has it: it may mean anything.
				x, y := 10+rnd.Intn(270), 10+rnd.Intn(170)
				in := was.In[(y>>was.Level)*was.W+x>>was.Level] == 0
				strokes = append(strokes, seeded{stroke(2, [2]float64{float64(x), float64(y)}), in})
				now, err := c.swept(strokes, nil)
				require.NoError(t, err)
				require.Equal(t, was.Level, now.Level)
				for i, v := range now.In {
					switch {
					case v == was.In[i]:
					case (v == 1) == in:
						changed++
					default:
						t.Fatalf("seed %d, stroke %d, adding %v: pixel %d went the other way", seed, len(strokes), in, i)
					}
				}
				was = now
			}
		}
	}
	assert.Greater(t, changed, 1000, "corrections correct")
}

// A stroke where the answer says so already is no correction: all strokes are solved as if they had been there at once.
func TestAStrokeThatAgreesIsAHint(t *testing.T) {
	strokes := []seeded{{stroke(5, [2]float64{80, 90}, [2]float64{100, 110}), true}}
	was := &Labels{W: 300, H: 200, In: make([]uint8, 300*200)}
	for y := 80; y < 120; y++ {
		for x := 70; x < 120; x++ {
			was.In[y*300+x] = 1
		}
	}
	for _, c := range []struct {
		x, y   float64
		inside bool
		is     bool
	}{{90, 100, true, false}, {90, 100, false, true}, {200, 100, true, true}, {200, 100, false, false}, {120, 100, true, false}} {
		k := correctionOf(append(strokes, seeded{stroke(4, [2]float64{c.x - 6, c.y}, [2]float64{c.x + 5, c.y}), c.inside}), was, 300, 200, 0)
		assert.Equal(t, c.is, k != nil, "%+v", c)
	}
	assert.Nil(t, correctionOf(strokes, nil, 300, 200, 0), "the first stroke corrects nothing")
	assert.Zero(t, (*correction)(nil).cost(was.In))
}

func TestWhatIsFarFromACorrectionCountsAgainstAnAnswer(t *testing.T) {
	was := &Labels{W: 100, H: 40, In: make([]uint8, 100*40)}
	for i := range was.In {
		if i%100 < 50 {
			was.In[i] = 1
		}
	}
	k := correctionOf([]seeded{{stroke(2, [2]float64{10, 10}), true}, {stroke(2, [2]float64{56, 4}, [2]float64{56, 36}), true}}, was, 100, 40, 0)
	require.NotNil(t, k)
	changed := func(x0, x1 int, to uint8) float64 {
		l := append([]uint8(nil), was.In...)
		for i := range l {
			if i%100 >= x0 && i%100 < x1 {
				l[i] = to
			}
		}
		return k.cost(l)
	}
	assert.Zero(t, k.cost(was.In))
	near, far, against := changed(50, 56, 1), changed(90, 96, 1), changed(20, 26, 0)
	assert.Less(t, 3*near, far)
	assert.InDelta(t, trust*6/56, far, 1e-6, "a stroke's length away all of it counts")
	assert.InDelta(t, trust*6/50, against, 1e-6, "and so does all that goes against the stroke")
	assert.Greater(t, changed(50, 100, 1), changed(50, 70, 1))
}

// A document that comes with many strokes is not solved once for each.
func TestManyStrokesAreSolvedAtOnce(t *testing.T) {
	strokes := []seeded{{stroke(5, [2]float64{80, 90}, [2]float64{100, 110}), true}}
	for i := range lookedAt {
		strokes = append(strokes, seeded{stroke(2, [2]float64{200, float64(20 + i)}), false})
	}
	answers := func(n int) int {
		k := kept{}
		_, err := (&compiler{p: newPyramid(bunch(1)), solved: k, effort: Exact}).swept(strokes[:n], nil)
		require.NoError(t, err)
		count := 0
		for _, v := range k {
			if _, ok := v.(*Labels); ok {
				count++
			}
		}
		return count
	}
	assert.Equal(t, 3, answers(3))
	assert.Equal(t, 1, answers(lookedAt+1))
}
