package api

import (
	"bytes"
	"context"

	"episema/core/document"
)

// ListRecipes gives the recipes that ship with the program.
func (s *Server) ListRecipes(context.Context, ListRecipesRequestObject) (ListRecipesResponseObject, error) {
	return ListRecipes200JSONResponse(document.ShippedRecipes()), nil
}

// ReadRecipeFile reads a file of recipes; nothing is stored.
func (s *Server) ReadRecipeFile(_ context.Context, r ReadRecipeFileRequestObject) (ReadRecipeFileResponseObject, error) {
	list, err := document.ParseRecipes([]byte(*r.Body))
	return ReadRecipeFile200JSONResponse(list), err
}

// GetRecipeFile writes a job's own recipes as a file.
func (s *Server) GetRecipeFile(ctx context.Context, r GetRecipeFileRequestObject) (GetRecipeFileResponseObject, error) {
	b, err := s.Studio.RecipeFile(ctx, r.Job)
	if err != nil {
		return nil, err
	}
	return GetRecipeFile200ApplicationoctetStreamResponse{Body: bytes.NewReader(b), ContentLength: int64(len(b)),
		Headers: GetRecipeFile200ResponseHeaders{ContentDisposition: attachment("recipes.json")}}, nil
}
