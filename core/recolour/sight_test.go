package recolour_test

import (
	"slices"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/raster"
	"episema/core/recolour"
	"episema/internal/scenes"
)

// sightOn repaints a rectangle of a picture with a sight, or without.
func sightOn(p *recolour.Plan, s *recolour.Sight, src *raster.RGB, mask *raster.Mask, inner raster.Rect) (*raster.RGB, recolour.Stats) {
	out := &raster.RGB{W: src.W, H: src.H, Pix: append([]float32(nil), src.Pix...)}
	if s != nil {
		p = p.Seeing(s)
	}
	return out, p.Apply(src, out, mask, raster.Place{Step: 1}, inner)
}

// TestWhatASightKeptMakesTheSamePicture goes through colours and settings of a part as a hand does, each of them twice, over a mask that spilled over.
func TestWhatASightKeptMakesTheSamePicture(t *testing.T) {
	with := func(change func(*recolour.Settings)) recolour.Settings {
		s := recolour.Defaults()
		change(&s)
		return s
	}
	own := scenes.Albedos["red"]
	for _, scene := range []string{"mug", "seat"} { // a glossy thing that mirrors, and a dark body
		s := truthOf(t, scene)
		corner := raster.Rect{X0: s.Mask.W / 8, Y0: s.Mask.H / 8, X1: s.Mask.W * 5 / 8, Y1: s.Mask.H * 5 / 8}
		src, mask := shot(t, s, s.From[0], false).Crop(corner), grown(s.Mask.Crop(corner), 6)
		learned, err := recolour.Learn(src, mask)
		require.NoError(t, err)
		sight := recolour.NewSight(recolour.NewRoom(1 << 30))
		whole := raster.Rect{X1: src.W, Y1: src.H}
		part := raster.Rect{X0: src.W / 4, Y0: src.H / 5, X1: src.W - 77, Y1: src.H - 101}
		for _, c := range []struct {
			name  string
			q     recolour.Request
			inner raster.Rect
		}{
			{"teal", recolour.Request{Goal: scenes.Albedos["teal"], Settings: recolour.Defaults()}, whole},
			{"near-black", recolour.Request{Goal: scenes.Albedos["offblack"], Settings: recolour.Defaults()}, whole},
			{"near-white, deeper", recolour.Request{Goal: scenes.Albedos["offwhite"], Settings: with(func(s *recolour.Settings) { s.ShadeDepth = 40 })}, whole},
			{"strict", recolour.Request{Goal: scenes.Albedos["teal"], Settings: with(func(s *recolour.Settings) { s.OnlyOwn = 90 })}, whole},
			{"all of the mask", recolour.Request{Goal: scenes.Albedos["teal"], Settings: with(func(s *recolour.Settings) { s.OnlyOwn = 0 })}, whole},
			{"of a known colour", recolour.Request{Goal: scenes.Albedos["teal"], Own: &own, Settings: recolour.Defaults()}, whole},
			{"elsewhere", recolour.Request{Goal: scenes.Albedos["teal"], Settings: recolour.Defaults()}, part},
			{"as a drawing", recolour.Request{Goal: scenes.Albedos["teal"], Settings: recolour.Defaults(), Coded: true}, part},
			{"evened", recolour.Request{Goal: scenes.Albedos["teal"], Settings: with(func(s *recolour.Settings) { s.Even = 50 })}, part},
			{"rebuilt", recolour.Request{Goal: scenes.Albedos["teal"], Settings: with(func(s *recolour.Settings) { s.Rebuild = recolour.NewRebuild() })}, part},
			{"another way", recolour.Request{Goal: scenes.Albedos["teal"], Settings: with(func(s *recolour.Settings) { s.Method = "turn-hue" })}, part},
			{"teal again", recolour.Request{Goal: scenes.Albedos["teal"], Settings: recolour.Defaults()}, part},
		} {
			p, _, err := learned.Plan(colour.SRGB, c.q)
			require.NoError(t, err)
			want, stats := sightOn(p, nil, src, mask, c.inner)
			for range 3 {
				got, counted := sightOn(p, sight, src, mask, c.inner)
				require.True(t, slices.Equal(want.Pix, got.Pix), "%s, %s", scene, c.name)
				require.Equal(t, stats, counted, "%s, %s", scene, c.name)
			}
		}
	}
}

// TestASightIsLookedInto repaints another picture in a sight of the first, which nobody may do: what was found out about the first is seen in it.
func TestASightIsLookedInto(t *testing.T) {
	s := truthOf(t, "mug")
	src := shot(t, s, s.From[0], true)
	whole := raster.Rect{X1: src.W, Y1: src.H}
	learned, err := recolour.Learn(src, s.Mask)
	require.NoError(t, err)
	plan := func(goal string) *recolour.Plan {
		p, _, err := learned.Plan(colour.SRGB, recolour.Request{Goal: scenes.Albedos[goal], Settings: recolour.Defaults()})
		require.NoError(t, err)
		return p
	}
	sight := recolour.NewSight(recolour.NewRoom(1 << 30))
	sightOn(plan("teal"), sight, src, s.Mask, whole)
	assert.Positive(t, sight.Bytes())
	right, _ := sightOn(plan("pastel"), nil, src, s.Mask, whole)
	other := &raster.RGB{W: src.W, H: src.H, Pix: make([]float32, len(src.Pix))}
	for i, v := range src.Pix {
		other.Pix[i] = 0.8 * v
	}
	fresh, _ := sightOn(plan("pastel"), nil, other, s.Mask, whole)
	got, _ := sightOn(plan("pastel"), sight, other, s.Mask, whole)
	assert.Less(t, inside(right, got, s.Mask), 0.5*inside(right, fresh, s.Mask))
}

// TestASightKeepsNoMoreThanThereIsRoomFor has a sight in too little room, and two in room for one.
func TestASightKeepsNoMoreThanThereIsRoomFor(t *testing.T) {
	p, src, mask := mugInTeal(t)
	whole, half := raster.Rect{X1: src.W, Y1: src.H}, raster.Rect{X1: src.W, Y1: src.H / 2}
	want, _ := sightOn(p, nil, src, mask, whole)
	first := recolour.NewSight(recolour.NewRoom(1 << 30))
	sightOn(p, first, src, mask, whole)
	all := first.Bytes()

	room := recolour.NewRoom(all - 1)
	small := recolour.NewSight(room)
	got, _ := sightOn(p, small, src, mask, whole)
	require.True(t, slices.Equal(want.Pix, got.Pix))
	assert.Zero(t, small.Bytes())
	sightOn(p, small, src, mask, half)
	assert.Positive(t, small.Bytes(), "half of it fits, and what did not fit has given its room back")
	other := recolour.NewSight(room)
	sightOn(p, other, src, mask, whole)
	assert.Zero(t, other.Bytes(), "one takes the other's room")
	sightOn(p, small, src, mask, whole) // lets go of the half that nobody looked into only when asked again
	sightOn(p, small, src, mask, whole)
	assert.Zero(t, small.Bytes())
	sightOn(p, other, src, mask, half)
	assert.Positive(t, other.Bytes(), "what was let go of is room")
}

// TestAHandThatChangesWhatIsSeenKeepsNothingForNobody drags what a sight depends on: it is kept once, and anew where it is asked for again.
func TestAHandThatChangesWhatIsSeenKeepsNothingForNobody(t *testing.T) {
	p, src, mask := mugInTeal(t)
	sight := recolour.NewSight(recolour.NewRoom(1 << 30))
	at := func(y int) raster.Rect { return raster.Rect{X1: src.W, Y1: y} }
	sightOn(p, sight, src, mask, at(400))
	kept := sight.Bytes()
	for y := 401; y < 405; y++ {
		sightOn(p, sight, src, mask, at(y))
		require.Equal(t, kept, sight.Bytes())
	}
	sightOn(p, sight, src, mask, at(404))
	assert.Greater(t, sight.Bytes(), kept, "asked for again")
}

// TestWhatIsKnownAtAnyStrictnessTakesOfTheRoomToo drags how strict to be: what that keeps besides is counted, and given back with the rest.
func TestWhatIsKnownAtAnyStrictnessTakesOfTheRoomToo(t *testing.T) {
	p, src, mask := mugInTeal(t)
	whole, half := raster.Rect{X1: src.W, Y1: src.H}, raster.Rect{X1: src.W, Y1: src.H / 2}
	learned, err := recolour.Learn(src, mask)
	require.NoError(t, err)
	strictly := func(strictness float64) *recolour.Plan {
		q := recolour.Request{Goal: scenes.Albedos["teal"], Settings: recolour.Defaults()}
		q.Settings.OnlyOwn = strictness
		p, _, err := learned.Plan(colour.SRGB, q)
		require.NoError(t, err)
		return p
	}
	middle := strictly(recolour.Defaults().OnlyOwn)
	first := recolour.NewSight(recolour.NewRoom(1 << 30))
	sightOn(middle, first, src, mask, whole)
	all, odds := first.Bytes(), 4*src.W*src.H

	room := recolour.NewRoom(all + odds)
	for _, c := range []struct {
		room *recolour.Room
		more int
	}{{room, odds}, {recolour.NewRoom(all + odds - 1), 0}} {
		sight := recolour.NewSight(c.room)
		sightOn(middle, sight, src, mask, whole)
		left := make(chan struct{})
		close(left)
		sightOn(strictly(40).Until(left), sight, src, mask, whole)
		require.Equal(t, all, sight.Bytes(), "whoever left has it found out no further")
		for _, strictness := range []float64{60, 90, 10} {
			q := strictly(strictness)
			want, _ := sightOn(q, nil, src, mask, whole)
			got, _ := sightOn(q, sight, src, mask, whole)
			require.True(t, slices.Equal(want.Pix, got.Pix), "at %v", strictness)
			assert.Equal(t, all+c.more, sight.Bytes())
		}
		sightOn(p, sight, src, mask, half)
		sightOn(p, sight, src, mask, half)
		assert.Less(t, sight.Bytes(), all)
		sightOn(middle, sight, src, mask, whole)
		sightOn(middle, sight, src, mask, whole)
		assert.Equal(t, all, sight.Bytes(), "what was let go of is room")
	}
}

// TestASightOfWhatWasStoppedIsNotKept stops a repaint once it is under way, and asks several at once.
func TestASightOfWhatWasStoppedIsNotKept(t *testing.T) {
	p, src, mask := mugInTeal(t)
	whole := raster.Rect{X1: src.W, Y1: src.H}
	want, _ := sightOn(p, nil, src, mask, whole)
	sight := recolour.NewSight(recolour.NewRoom(1 << 30))
	done := make(chan struct{})
	close(done)
	sightOn(p.Until(done), sight, src, mask, whole)
	require.Zero(t, sight.Bytes())
	var all sync.WaitGroup
	for range 4 {
		all.Go(func() {
			for range 3 {
				got, _ := sightOn(p, sight, src, mask, whole)
				assert.True(t, slices.Equal(want.Pix, got.Pix))
			}
		})
	}
	all.Wait()
	assert.Positive(t, sight.Bytes())
}
