package document

import (
	"bytes"
	_ "embed"
	"encoding/json"
	"fmt"
	"strings"

	"episema/core/mend"
	"episema/core/recolour"
)

// Recipe is a way of recolouring that is kept under a name, to be put on other parts: all that a part has but its selection and
// what belongs to its one picture.
type Recipe struct {
	ID   string `json:"id,omitempty"` // in a job; a file has none
	Name string `json:"name"`
	Note string `json:"note,omitempty"` // what it is for, at most MaxNote characters
	// Target is a colour, or one that starts from the thing's own, so that things of several colours each become a fresher one.
	Target   Target            `json:"target"`
	Settings recolour.Settings `json:"settings"`
	Cast     *mend.Cast        `json:"cast,omitempty"`
}

// Bounds of the recipes of a job or file.
const (
	MaxRecipes    = 500
	MaxNote       = 500
	MaxRecipeFile = 4 << 20 // bytes
)

// UnmarshalJSON reads a recipe; settings that it does not have are those that change nothing.
func (r *Recipe) UnmarshalJSON(b []byte) error {
	type plain Recipe
	p := plain{Settings: recolour.Defaults()}
	d := json.NewDecoder(bytes.NewReader(b))
	d.DisallowUnknownFields()
	err := d.Decode(&p)
	*r = Recipe(p)
	return err
}

// On returns a part with the recipe on it. What is the part's alone stays: its selection, its own colour, its match point.
func (r Recipe) On(p Part) Part {
	p.Target, p.Settings, p.Cast = r.Target, r.Settings, r.Cast
	return p
}

func (r *Recipe) validate(where string) error {
	if strings.TrimSpace(r.Name) == "" || len(r.Name) > MaxName {
		return &Error{where, "its name is empty or too long"}
	}
	where = fmt.Sprintf("recipe %q", r.Name)
	switch {
	case len(r.Note) > MaxNote:
		return &Error{where, fmt.Sprintf("its note is longer than %d characters", MaxNote)}
	case r.Target.PaletteID != "":
		return &Error{where, "its target points into a palette, which other jobs do not have; give the colour itself"}
	case r.Settings.Rebuild != nil && len(r.Settings.Rebuild.Away) > 0:
		return &Error{where, "it has strokes, which belong to one picture; take them out of rebuild"}
	}
	if err := r.Target.validate(); err != nil {
		return &Error{where, err.Error()}
	}
	if err := r.Settings.Validate(); err != nil {
		return &Error{where, err.Error()}
	}
	if err := r.Cast.Validate(); err != nil {
		return &Error{where, err.Error()}
	}
	return nil
}

func validateRecipes(list []Recipe, ids bool) error {
	if len(list) > MaxRecipes {
		return &Error{"recipes", fmt.Sprintf("there are over %d", MaxRecipes)}
	}
	seen := map[string]bool{}
	for i := range list {
		where := fmt.Sprintf("recipe %d", i+1)
		if id := list[i].ID; ids && (id == "" || len(id) > 64 || seen[id]) {
			return &Error{where, "its id is missing, too long or used twice"}
		}
		seen[list[i].ID] = true
		if err := list[i].validate(where); err != nil {
			return err
		}
	}
	return nil
}

// recipeFile is how recipes are written: JSON with one list.
type recipeFile struct {
	Recipes []Recipe `json:"recipes"`
}

// ParseRecipes reads a recipe file, {"recipes": [...]} of Recipe. A file that is not one is an *Error that says where.
func ParseRecipes(b []byte) ([]Recipe, error) {
	if len(b) > MaxRecipeFile {
		return nil, &Error{"recipes", fmt.Sprintf("the file has over %d MB", MaxRecipeFile>>20)}
	}
	var f recipeFile
	d := json.NewDecoder(bytes.NewReader(b))
	d.DisallowUnknownFields()
	if err := d.Decode(&f); err != nil {
		return nil, &Error{"recipes", "this is not a file of recipes: " + err.Error()}
	}
	if len(f.Recipes) == 0 {
		return nil, &Error{"recipes", "the file has none"}
	}
	return f.Recipes, validateRecipes(f.Recipes, false)
}

// WriteRecipes writes a recipe file that ParseRecipes reads again.
func WriteRecipes(list []Recipe) ([]byte, error) {
	f := recipeFile{append([]Recipe{}, list...)}
	for i := range f.Recipes {
		f.Recipes[i].ID = ""
	}
	b, err := json.MarshalIndent(f, "", "  ")
	return append(b, '\n'), err
}

//go:embed recipes.json
var shipped []byte

// ShippedRecipes returns the recipes that every job has beside its own.
func ShippedRecipes() []Recipe {
	list, err := ParseRecipes(shipped)
	if err != nil {
		panic(err) // it is part of the program; the tests read it
	}
	return list
}
