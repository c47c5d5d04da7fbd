package document

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"os"
	"reflect"
	"slices"
	"strings"
	"testing"

	jsonpatch "github.com/evanphx/json-patch/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// fill sets everything in a value at random: what is left out now and then is what JSON leaves out.
func fill(r *rand.Rand, v reflect.Value) {
	switch v.Kind() {
	case reflect.Pointer:
		if r.IntN(3) > 0 {
			v.Set(reflect.New(v.Type().Elem()))
			fill(r, v.Elem())
		}
	case reflect.Struct:
		for i := range v.NumField() {
			fill(r, v.Field(i))
		}
	case reflect.Slice:
		n := r.IntN(4)
		v.Set(reflect.MakeSlice(v.Type(), n, n))
		for i := range n {
			fill(r, v.Index(i))
		}
	case reflect.Array:
		for i := range v.Len() {
			fill(r, v.Index(i))
		}
	case reflect.String:
		v.SetString([]string{"", "a", "mug/~1", "Größe"}[r.IntN(4)])
	case reflect.Bool:
		v.SetBool(r.IntN(2) == 0)
	case reflect.Float64:
		v.SetFloat(float64(r.IntN(9)) / 4)
	case reflect.Int:
		v.SetInt(int64(r.IntN(5)))
	default:
		panic("a document has a kind of field that no test fills: " + v.Kind().String())
	}
}

// someChange makes a change that fits a document.
func someChange(r *rand.Rand, v reflect.Value) Change {
	path := ""
	for {
		for v.Kind() == reflect.Pointer {
			v = v.Elem()
		}
		var step string
		switch v.Kind() {
		case reflect.Struct:
			fields := slices.DeleteFunc(reflect.VisibleFields(v.Type()), func(f reflect.StructField) bool { return f.Anonymous })
			of := fields[r.IntN(len(fields))]
			tag, rest, _ := strings.Cut(of.Tag.Get("json"), ",")
			f := v.FieldByIndex(of.Index)
			step, path = tag, path+"/"+tag
			there := !f.IsZero() && (f.Kind() != reflect.Slice || f.Len() > 0)
			if !there || r.IntN(5) == 0 {
				if there && rest == "omitempty" && r.IntN(2) == 0 {
					return Change{Op: "remove", Path: path}
				}
				return valued(r, "add", path, f.Type())
			}
			v = f
		case reflect.Slice:
			n := v.Len()
			if n == 0 || r.IntN(4) == 0 {
				at := r.IntN(n + 1)
				step = fmt.Sprint(at)
				if at == n && r.IntN(2) == 0 {
					step = "-"
				}
				return valued(r, "add", path+"/"+step, v.Type().Elem())
			}
			at := r.IntN(n)
			path += "/" + fmt.Sprint(at)
			switch r.IntN(5) {
			case 0:
				return Change{Op: "remove", Path: path}
			case 1:
				return valued(r, "replace", path, v.Type().Elem())
			}
			v = v.Index(at)
		case reflect.Array:
			at := r.IntN(v.Len())
			return valued(r, "replace", path+"/"+fmt.Sprint(at), v.Type().Elem())
		default:
			return valued(r, "replace", path, v.Type())
		}
	}
}

func valued(r *rand.Rand, op, path string, t reflect.Type) Change {
	v := reflect.New(t).Elem()
	fill(r, v)
	b, err := json.Marshal(v.Interface())
	if err != nil {
		panic(err)
	}
	return Change{op, path, b}
}

func text(t *testing.T, v any) string {
	b, err := json.Marshal(v)
	require.NoError(t, err)
	return string(b)
}

// A library for RFC 6902 (evanphx/json-patch) makes the same changes in the text of a document.
func TestChangesAreThoseOfAJSONPatch(t *testing.T) {
	ops := map[string]int{}
	for seed := range uint64(3000) {
		r := rand.New(rand.NewPCG(seed, 1))
		var doc Picture
		fill(r, reflect.ValueOf(&doc).Elem())
		before := text(t, doc)
		now := doc
		var changes []Change
		for range 1 + r.IntN(6) {
			c := someChange(r, reflect.ValueOf(&now).Elem())
			next, err := now.Apply([]Change{c})
			require.NoError(t, err, "seed %d: %s %s %s", seed, c.Op, c.Path, c.Value)
			now = next
			changes = append(changes, c)
			ops[c.Op]++
		}
		all, err := doc.Apply(changes)
		require.NoError(t, err)
		require.Equal(t, text(t, now), text(t, all), "seed %d: all at once is one after the other", seed)
		require.Equal(t, before, text(t, doc), "seed %d: the document itself stays", seed)

		patch, err := jsonpatch.DecodePatch([]byte(text(t, changes)))
		require.NoError(t, err)
		wanted, err := patch.Apply([]byte(before))
		require.NoError(t, err, "seed %d: %s", seed, text(t, changes))
		var again Picture
		require.NoError(t, json.Unmarshal(wanted, &again))
		require.Equal(t, text(t, again), text(t, all), "seed %d: %s", seed, text(t, changes))
	}
	for _, op := range []string{"add", "replace", "remove"} {
		assert.Greater(t, ops[op], 200, op)
	}
}

// What the browser says of an edit (web/src/api/changes.ts, which writes these cases) makes the same document here.
func TestTheBrowsersChangesMakeItsDocuments(t *testing.T) {
	b, err := os.ReadFile("testdata/changes.json")
	require.NoError(t, err)
	var cases []struct {
		Before, After Picture
		Changes       []Change
	}
	require.NoError(t, json.Unmarshal(b, &cases))
	require.Len(t, cases, 60)
	for i, c := range cases {
		made, err := c.Before.Apply(c.Changes)
		require.NoError(t, err, "case %d", i)
		require.Equal(t, text(t, c.After), text(t, made), "case %d", i)
	}
}

func TestChangesThatDoNotFitAreRefused(t *testing.T) {
	var doc Picture
	fill(rand.New(rand.NewPCG(4, 4)), reflect.ValueOf(&doc).Elem())
	doc.Parts = append(doc.Parts[:0:0], Part{ID: "a", Match: &[2]float64{1, 2}})
	for name, c := range map[string]struct {
		change Change
		says   string
	}{
		"another operation":    {Change{"move", "/parts/0", nil}, "add, replace or remove"},
		"no value":             {Change{"add", "/parts/0", nil}, "have a value"},
		"a value to remove":    {Change{"remove", "/parts/0", json.RawMessage("1")}, "remove has none"},
		"no slash":             {Change{"add", "parts", json.RawMessage("[]")}, "slash"},
		"a misspelt member":    {Change{"add", "/parts/0/hiden", json.RawMessage("true")}, `"hidden" is meant`},
		"one in the value":     {Change{"add", "/parts/-", json.RawMessage(`{"id":"b","nam":"x"}`)}, `unknown field "nam"`},
		"a wrong kind":         {Change{"replace", "/parts/0/name", json.RawMessage("3")}, "not what belongs there"},
		"behind the end":       {Change{"add", "/parts/2", json.RawMessage("{}")}, "no place 2 in a list of 1"},
		"replaced at the end":  {Change{"replace", "/parts/1", json.RawMessage("{}")}, "no place 1"},
		"a place with a plus":  {Change{"remove", "/parts/+0", nil}, "no place in a list"},
		"a negative place":     {Change{"remove", "/parts/-1", nil}, "no place in a list"},
		"into what is not set": {Change{"add", "/parts/0/edge/grow", json.RawMessage("1")}, "nothing yet"},
		"into a text":          {Change{"add", "/parts/0/name/x", json.RawMessage("1")}, "has no parts"},
		"half of a pair":       {Change{"remove", "/parts/0/match/0", nil}, "two numbers"},
		"all of it":            {Change{"remove", "", nil}, "not removed"},
	} {
		t.Run(name, func(t *testing.T) {
			before := text(t, doc)
			_, err := doc.Apply([]Change{{"add", "/parts/0/name", json.RawMessage(`"changed first"`)}, c.change})
			require.ErrorContains(t, err, c.says)
			var e *Error
			require.ErrorAs(t, err, &e)
			assert.Equal(t, before, text(t, doc))
		})
	}
	_, err := doc.Apply(make([]Change, MaxChanges+1))
	require.ErrorContains(t, err, "whole")
}

func FuzzApply(f *testing.F) {
	f.Add(uint64(1), `[{"op":"add","path":"/parts/-","value":{"id":"a"}},{"op":"remove","path":"/parts/0"}]`)
	f.Add(uint64(7), `[{"op":"replace","path":"/parts/0/match/1","value":1e300}]`)
	f.Fuzz(func(t *testing.T, seed uint64, patch string) {
		var changes []Change
		if json.Unmarshal([]byte(patch), &changes) != nil {
			return
		}
		var doc Picture
		fill(rand.New(rand.NewPCG(seed, 2)), reflect.ValueOf(&doc).Elem())
		before := text(t, doc)
		_, _ = doc.Apply(changes)
		if before != text(t, doc) {
			t.Fatalf("%s changed the document itself", patch)
		}
	})
}

func ExamplePicture_Apply() {
	doc := Picture{Parts: []Part{{ID: "a", Name: "Mug"}}}
	next, err := doc.Apply([]Change{{Op: "replace", Path: "/parts/0/name", Value: json.RawMessage(`"Handle"`)}})
	fmt.Println(doc.Parts[0].Name, next.Parts[0].Name, err)
	// Output: Mug Handle <nil>
}
