package api

import (
	"context"
	_ "embed"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"net/http"
	"regexp"
	"slices"
	"strings"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/getkin/kin-openapi/routers"
	"github.com/gin-gonic/gin"
	"golang.org/x/sync/semaphore"

	"episema/core/nearest"
)

//go:embed openapi.yaml
var contractYAML []byte

// bodyRoom is how many bytes the values of all bodies that are being answered may take together.
const bodyRoom = 1 << 30

// contract holds what openapi.yaml says of each call, and turns away what does not keep to it.
type contract struct {
	calls map[string]*routers.Route // by method and gin's path
	room  *semaphore.Weighted
}

var pathParameter = regexp.MustCompile(`\{(\w+)\}`)

func readContract() (*contract, error) {
	openapi3.DefineStringFormatValidator("uuid", openapi3.NewRegexpFormatValidator("^[0-9a-fA-F]{8}(-[0-9a-fA-F]{4}){3}-[0-9a-fA-F]{12}$"))
	doc, err := openapi3.NewLoader().LoadFromData(contractYAML)
	if err != nil {
		return nil, err
	}
	if err := doc.Validate(context.Background()); err != nil {
		return nil, err
	}
	k := &contract{calls: map[string]*routers.Route{}, room: semaphore.NewWeighted(bodyRoom)}
	for path, item := range doc.Paths.Map() {
		for method, op := range item.Operations() {
			k.calls[method+" "+pathParameter.ReplaceAllString(path, ":$1")] = &routers.Route{Spec: doc, Path: path, PathItem: item, Method: method, Operation: op}
			if s := jsonOf(op); s != nil {
				closed(s.Schema.Value, map[*openapi3.Schema]bool{})
			}
		}
	}
	return k, nil
}

// jsonOf gives what a call takes as JSON; nil where it takes none.
func jsonOf(op *openapi3.Operation) *openapi3.MediaType {
	if op.RequestBody == nil {
		return nil
	}
	return op.RequestBody.Value.Content.Get("application/json")
}

// closed makes a schema refuse properties that it does not name: they would be dropped without a word.
func closed(s *openapi3.Schema, seen map[*openapi3.Schema]bool) {
	if s == nil || seen[s] {
		return
	}
	seen[s] = true
	if s.Items != nil {
		closed(s.Items.Value, seen)
	}
	if s.AdditionalProperties.Schema != nil {
		closed(s.AdditionalProperties.Schema.Value, seen)
	} else if s.Type.Is("object") {
		no := false
		s.AdditionalProperties.Has = &no
	}
	for name, p := range s.Properties {
		closed(p.Value, seen)
		// What may be left out may be null, and a list that is null is an empty one: documents of before have them.
		if !slices.Contains(s.Required, name) || p.Value.Type.Is("array") {
			p.Value.Nullable = true
		}
	}
}

// takesFile reports whether a call's body is a file, which is counted while it is stored.
func (k *contract) takesFile(call string) bool {
	r := k.calls[call]
	return r != nil && r.Operation.RequestBody != nil && r.Operation.RequestBody.Value.Content.Get("application/octet-stream") != nil
}

// check refuses a call whose path, query or body is not as the contract has it.
func (s *Server) check(c *gin.Context) {
	route := s.contract.calls[c.Request.Method+" "+c.FullPath()]
	if route == nil {
		c.Next()
		return
	}
	leave, status, err := s.contract.hold(c, route)
	defer leave()
	var large *http.MaxBytesError
	if errors.As(err, &large) {
		s.fail(c, err)
	} else if err != nil {
		s.problem(c, status, "the call is not understood: "+err.Error())
	}
	if err != nil {
		c.Abort()
		return
	}
	c.Next()
}

// hold checks a call against its route. What its body takes in memory is counted until leave is called.
func (k *contract) hold(c *gin.Context, route *routers.Route) (leave func(), status int, err error) {
	leave = func() {}
	if err := parameters(c, route); err != nil {
		return leave, http.StatusBadRequest, err
	}
	media := jsonOf(route.Operation)
	if media == nil {
		return leave, 0, nil
	}
	if kind := c.ContentType(); kind != "application/json" && kind != "" {
		return leave, http.StatusUnsupportedMediaType, fmt.Errorf("its body is JSON (application/json), not %.60q", kind)
	}
	text, err := io.ReadAll(c.Request.Body)
	if err != nil {
		return leave, http.StatusBadRequest, fmt.Errorf("its body did not arrive whole: %w", err)
	}
	takes := memoryOf(text)
	if takes > bodyRoom {
		return leave, http.StatusRequestEntityTooLarge, errors.New("its body holds more values than the server has memory for; send less at once")
	}
	if err := k.room.Acquire(c.Request.Context(), takes); err != nil {
		return leave, http.StatusServiceUnavailable, err
	}
	leave = func() { k.room.Release(takes) }
	var value any
	if err := json.Unmarshal(text, &value); err != nil {
		return leave, http.StatusBadRequest, fmt.Errorf("its body is not JSON: %w", err)
	}
	if err := media.Schema.Value.VisitJSON(value); err != nil {
		return leave, http.StatusUnprocessableEntity, said(err)
	}
	c.Request.Body = io.NopCloser(strings.NewReader(string(text)))
	return leave, 0, nil
}

// memoryOf gives at most how many bytes the values of a JSON text take once they are read, twice: as the contract and as the
// handler sees them.
func memoryOf(text []byte) int64 {
	n := int64(len(text)) * 3
	for _, b := range text {
		switch b {
		case ',', '[':
			n += 80
		case '{':
			n += 500
		}
	}
	return n
}

// parameters checks what stands in the path and in the query; a name that the call does not know is refused.
func parameters(c *gin.Context, route *routers.Route) error {
	in := &openapi3filter.RequestValidationInput{Request: c.Request, Route: route, PathParams: map[string]string{}, QueryParams: c.Request.URL.Query(),
		Options: &openapi3filter.Options{SkipSettingDefaults: true}}
	for _, p := range c.Params {
		in.PathParams[p.Key] = p.Value
	}
	known := map[string]bool{}
	for _, p := range slices.Concat(route.PathItem.Parameters, route.Operation.Parameters) {
		if p.Value.In == openapi3.ParameterInQuery {
			known[p.Value.Name] = true
		}
		if err := openapi3filter.ValidateParameter(c.Request.Context(), in, p.Value); err != nil {
			return fmt.Errorf("%s: %w", p.Value.Name, said(err))
		}
	}
	for name := range in.QueryParams {
		if !known[name] {
			return nearest.Unknown(name, slices.Sorted(maps.Keys(known)))
		}
	}
	return nil
}

// said puts what the contract finds wrong into a sentence that names the place.
func said(err error) error {
	var broken *openapi3.SchemaError
	if !errors.As(err, &broken) {
		var wrong *openapi3filter.RequestError
		if errors.As(err, &wrong) && wrong.Err != nil {
			return wrong.Err
		}
		return err
	}
	at := strings.Join(broken.JSONPointer(), "/")
	reason := broken.Reason
	if broken.SchemaField == "properties" && broken.Schema != nil {
		if value, ok := broken.Value.(map[string]any); ok {
			for name := range value {
				if broken.Schema.Properties[name] == nil {
					reason = nearest.Unknown(name, slices.Sorted(maps.Keys(broken.Schema.Properties))).Error()
				}
			}
		}
	}
	switch v := broken.Value.(type) {
	case string:
		reason += fmt.Sprintf(" (it is %.60q)", v)
	case float64, int64, bool:
		reason += fmt.Sprintf(" (it is %v)", v)
	}
	if at == "" {
		return errors.New(reason)
	}
	return fmt.Errorf("%s: %s", at, reason)
}
