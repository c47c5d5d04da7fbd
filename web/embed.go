// Package web holds the built front end.
package web

import "embed"

// Dist is what vite built; only a placeholder before the first build.
//
//go:embed all:dist
var Dist embed.FS
