// Package api serves the contract of openapi.yaml.
package api

//go:generate go tool oapi-codegen -config oapi.yaml openapi.yaml
