package document

import (
	"bytes"
	"encoding/json"
	"fmt"
	"reflect"
	"strconv"
	"strings"

	"episema/core/nearest"
)

// Change is one operation of a JSON Patch (RFC 6902) on a document: "add", "replace" or "remove" at a JSON Pointer
// (RFC 6901). The others of that standard are not taken: no edit needs them.
type Change struct {
	Op    string          `json:"op"`
	Path  string          `json:"path"`
	Value json.RawMessage `json:"value,omitempty"`
}

// MaxChanges is the most operations that one edit has; more of them come as a whole document.
const MaxChanges = 1000

// Apply gives the document with changes made to it, one after the other. The document itself stays as it is: what
// both have in common is shared. A member that is not there may be removed, for documents leave out what is not set. It
// returns an Error where an operation does not fit; the outcome is not validated.
func (p Picture) Apply(changes []Change) (Picture, error) {
	if len(changes) > MaxChanges {
		return p, &Error{"changes", fmt.Sprintf("there are %d; at most %d are taken at once, so send the document whole", len(changes), MaxChanges)}
	}
	out := p
	e := edit{own: map[uintptr]bool{}}
	for i, c := range changes {
		if err := e.change(reflect.ValueOf(&out).Elem(), c); err != nil {
			return p, &Error{fmt.Sprintf("change %d, %s %q", i+1, c.Op, cut(c.Path)), err.Error()}
		}
	}
	return out, nil
}

func cut(s string) string {
	if len(s) > 80 {
		return s[:80] + "..."
	}
	return s
}

// edit knows the containers that it has copied already, so that a thousand changes of one list copy it once.
type edit struct{ own map[uintptr]bool }

func (e *edit) change(v reflect.Value, c Change) error {
	switch c.Op {
	case "add", "replace", "remove":
	default:
		return fmt.Errorf("an operation is add, replace or remove")
	}
	if (c.Op != "remove") != (len(c.Value) > 0) {
		return fmt.Errorf("add and replace have a value, remove has none")
	}
	if c.Path == "" {
		if c.Op == "remove" {
			return fmt.Errorf("the whole document is not removed")
		}
		return decode(v, c.Value)
	}
	if c.Path[0] != '/' {
		return fmt.Errorf("a path begins with a slash")
	}
	steps := strings.Split(c.Path[1:], "/")
	for i, s := range steps {
		steps[i] = strings.NewReplacer("~1", "/", "~0", "~").Replace(s)
	}
	return e.at(v, steps, c)
}

// at makes a change at a path below v, which can be set.
func (e *edit) at(v reflect.Value, path []string, c Change) error {
	step, last := path[0], len(path) == 1
	switch v.Kind() {
	case reflect.Pointer:
		if v.IsNil() {
			return fmt.Errorf("there is nothing yet that could hold %q", cut(step))
		}
		if !e.own[v.Pointer()] {
			n := reflect.New(v.Type().Elem())
			n.Elem().Set(v.Elem())
			v.Set(n)
			e.own[n.Pointer()] = true
		}
		return e.at(v.Elem(), path, c)
	case reflect.Struct:
		f, err := field(v, step)
		switch {
		case err != nil:
			return err
		case !last:
			return e.at(f, path[1:], c)
		case c.Op == "remove":
			f.SetZero()
			return nil
		}
		return decode(f, c.Value)
	case reflect.Slice, reflect.Array:
		return e.list(v, path, c)
	}
	return fmt.Errorf("%q stands in something that has no parts", cut(step))
}

// field finds a member by its name in JSON.
func field(v reflect.Value, name string) (reflect.Value, error) {
	var known []string
	for _, f := range reflect.VisibleFields(v.Type()) {
		if f.Anonymous { // what it holds is written as the struct's own
			continue
		}
		tag, _, _ := strings.Cut(f.Tag.Get("json"), ",")
		if tag == name {
			return v.FieldByIndex(f.Index), nil
		}
		known = append(known, tag)
	}
	return reflect.Value{}, nearest.Unknown(name, known)
}

// placeOf reads a place in a list of n; one behind the last, which "-" means, too, is there for what is added to a list that grows.
func placeOf(step string, n int, added, grows bool) (int, error) {
	i, err := strconv.Atoi(step)
	if step == "-" && added {
		i, err = n, nil
	}
	switch {
	case err != nil || i < 0 || strconv.Itoa(i) != step && step != "-":
		return 0, fmt.Errorf("%q is no place in a list", cut(step))
	case i > n || i == n && !(added && grows):
		return 0, fmt.Errorf("there is no place %d in a list of %d", i, n)
	}
	return i, nil
}

// list makes a change in a list or below one of its items.
func (e *edit) list(v reflect.Value, path []string, c Change) error {
	last, n := len(path) == 1, v.Len()
	i, err := placeOf(path[0], n, last && c.Op == "add", v.Kind() == reflect.Slice)
	if err != nil {
		return err
	}
	if v.Kind() == reflect.Array {
		if last && c.Op != "replace" {
			return fmt.Errorf("a pair keeps its two numbers")
		}
	} else if n == 0 || !e.own[v.Pointer()] {
		fresh := reflect.MakeSlice(v.Type(), n, n+1)
		reflect.Copy(fresh, v)
		v.Set(fresh)
		e.own[fresh.Pointer()] = true
	}
	switch {
	case !last:
		return e.at(v.Index(i), path[1:], c)
	case c.Op == "replace":
		return decode(v.Index(i), c.Value)
	case c.Op == "remove":
		reflect.Copy(v.Slice(i, n-1), v.Slice(i+1, n))
		v.Index(n - 1).SetZero()
		v.Set(v.Slice3(0, n-1, n-1))
		// What was cut off may not be written into by another: a list that grows again is copied.
		return nil
	}
	item := reflect.New(v.Type().Elem()).Elem()
	if err := decode(item, c.Value); err != nil {
		return err
	}
	grown := reflect.Append(v, item)
	reflect.Copy(grown.Slice(i+1, n+1), grown.Slice(i, n))
	grown.Index(i).Set(item)
	v.Set(grown)
	e.own[grown.Pointer()] = true
	return nil
}

// decode reads a value; what it does not name is not set, and a name that is not known is an error.
func decode(v reflect.Value, text json.RawMessage) error {
	fresh := reflect.New(v.Type())
	d := json.NewDecoder(bytes.NewReader(text))
	d.DisallowUnknownFields()
	if err := d.Decode(fresh.Interface()); err != nil {
		return fmt.Errorf("the value is not what belongs there: %w", err)
	}
	v.Set(fresh.Elem())
	return nil
}
