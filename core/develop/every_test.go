package develop_test

import (
	"encoding/json"
	"maps"
	"math"
	"reflect"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/artwork"
	"episema/core/colour"
	"episema/core/develop"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/raster"
	"episema/internal/everyfield"
	"episema/internal/scenes"
)

// fieldsOf names every field that a type holds.
func fieldsOf(t reflect.Type, into map[string]bool) {
	switch t.Kind() {
	case reflect.Pointer, reflect.Slice, reflect.Array, reflect.Map:
		fieldsOf(t.Elem(), into)
	case reflect.Struct:
		name := t.Name()
		if name == "Stroke" {
			name = t.String()
		}
		for f := range t.Fields() {
			if f.Anonymous { // what it holds is written as its own
				for g := range f.Type.Fields() {
					into[name+"."+f.Name+"."+g.Name] = true
				}
				fieldsOf(f.Type, into)
				continue
			}
			field := name + "." + f.Name
			if into[field] {
				continue
			}
			into[field] = true
			fieldsOf(f.Type, into)
		}
	}
}

const storedMask = "5e1f0000000000000000000000000000000000000000000000000000000000aa"

func TestEveryFieldIsMovedByATest(t *testing.T) {
	want := map[string]bool{}
	fieldsOf(reflect.TypeFor[document.Picture](), want)
	require.Greater(t, len(want), 100)
	for _, m := range everyfield.Moves(storedMask) {
		delete(want, m.Field)
	}
	assert.Empty(t, slices.Sorted(maps.Keys(want)), "a new field has its line in everyfield.Moves")
}

// Every field changes the picture, or is on the list with what it is for instead; and a document that is written and read
// again is the same.
func TestEveryFieldIsReadAgainAndMovesThePicture(t *testing.T) {
	scene := everyfield.Scene()
	render := func(doc document.Picture) []float32 {
		src := develop.Source{Pyramid: scenes.NewPyramid(scene), Space: colour.SRGB, Depth: everyfield.Near(), Masks: map[string]*raster.Mask{storedMask: everyfield.Stored()}}
		d, err := develop.Develop(src, doc, nil, nil, isolate.Exact)
		require.NoError(t, err)
		r, err := d.Render(0, raster.Rect{X1: everyfield.W, Y1: everyfield.H})
		require.NoError(t, err)
		return r.After.Pix
	}
	drawn := func(doc document.Picture) string {
		d, err := artwork.Parse([]byte(everyfield.Drawing))
		require.NoError(t, err)
		r, err := doc.Recoloured(d)
		require.NoError(t, err)
		return string(r.Source)
	}
	for _, m := range everyfield.Moves(storedMask) {
		t.Run(m.Field, func(t *testing.T) {
			t.Parallel()
			before, after := m.Before(), m.After()
			require.NoError(t, before.Validate())
			b, err := json.Marshal(after)
			require.NoError(t, err)
			again, err := document.Parse(b)
			require.NoError(t, err)
			assert.Equal(t, after, again)
			was, err := json.Marshal(before)
			require.NoError(t, err)
			require.NotEqual(t, string(was), string(b), "the field is not written")
			if m.Drawn {
				assert.Equal(t, m.Still != "", drawn(before) == drawn(after), m.Still)
				return
			}
			one, other := render(before), render(after)
			moved := 0.0
			for i := range one {
				moved = max(moved, math.Abs(float64(one[i]-other[i])))
			}
			if m.Still != "" {
				assert.Zero(t, moved, m.Still)
			} else {
				assert.Greater(t, moved, 0.002, "of linear light, at the pixel that moves most")
			}
		})
	}
}

// Whatever is changed on a view that was rendered again and again, what is kept of it is the same as what is found out anew.
func TestEveryFieldMovesAViewThatWasSeenBefore(t *testing.T) {
	scene := everyfield.Scene()
	src := develop.Source{Pyramid: scenes.NewPyramid(scene), Space: colour.SRGB, Depth: everyfield.Near(), Masks: map[string]*raster.Mask{storedMask: everyfield.Stored()}}
	for _, m := range everyfield.Moves(storedMask) {
		if m.Drawn {
			continue
		}
		t.Run(m.Field, func(t *testing.T) {
			t.Parallel()
			memo := remembering{}
			for range 3 {
				seenAgain(t, src, m.Before(), memo)
			}
			want := seenAgain(t, src, m.After(), nil)
			for range 3 {
				require.True(t, slices.Equal(want, seenAgain(t, src, m.After(), memo)))
			}
		})
	}
}

func TestEveryFieldOfAJobIsReadAgain(t *testing.T) {
	c := everyfield.Content(storedMask)
	b, err := json.Marshal(c)
	require.NoError(t, err)
	again, err := document.ParseContent(b)
	require.NoError(t, err)
	assert.Equal(t, c, again)
	zero := map[string]bool{}
	unset(reflect.ValueOf(c), "", zero)
	delete(zero, ".Recipes.Target.PaletteID") // that is refused: a recipe goes where there is another palette
	assert.Empty(t, zero, "a new field has its value in everyfield.Content")
}

// unset names the fields of a value that are not set; settings have their moves.
func unset(v reflect.Value, at string, into map[string]bool) {
	switch v.Kind() {
	case reflect.Pointer:
		unset(v.Elem(), at, into)
	case reflect.Slice:
		for i := range v.Len() {
			unset(v.Index(i), at, into)
		}
	case reflect.Map:
		for _, k := range v.MapKeys() {
			unset(v.MapIndex(k), at, into)
		}
	case reflect.Struct:
		if strings.Contains(v.Type().String(), "recolour.") {
			return
		}
		for i := range v.NumField() {
			name := at + "." + v.Type().Field(i).Name
			if v.Field(i).IsZero() {
				into[name] = true
				continue
			}
			unset(v.Field(i), name, into)
		}
	}
}
