package main

import (
	"os"
	"strings"

	"episema/core/document"
)

// findRecipe returns the recipe that --recipe names: one that ships by its name, or one of a file: path, or path#name where the
// file has several.
func findRecipe(name string) (document.Recipe, error) {
	for _, r := range document.ShippedRecipes() {
		if strings.EqualFold(r.Name, name) {
			return r, nil
		}
	}
	path, wanted, several := strings.Cut(name, "#")
	b, err := os.ReadFile(path)
	if err != nil {
		var names []string
		for _, r := range document.ShippedRecipes() {
			names = append(names, r.Name)
		}
		return document.Recipe{}, usagef("--recipe %s: no file has this path, and no recipe that ships this name; those are: %s", name, strings.Join(names, "; "))
	}
	list, err := document.ParseRecipes(b)
	if err != nil {
		return document.Recipe{}, usagef("--recipe %s: %v", path, err)
	}
	var names []string
	for _, r := range list {
		if !several && len(list) == 1 || several && strings.EqualFold(r.Name, wanted) {
			return r, nil
		}
		names = append(names, path+"#"+r.Name)
	}
	return document.Recipe{}, usagef("--recipe %s: say which one of the file: %s", name, strings.Join(names, "; "))
}
