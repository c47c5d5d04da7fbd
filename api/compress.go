package api

import (
	"bytes"
	"compress/gzip"
	"strings"

	"github.com/gin-gonic/gin"
)

// compressFrom is the size in bytes from which JSON is sent compressed.
const compressFrom = 4096

// compressed sends large JSON answers as gzip to those who take it; everything else goes as it is.
type compressed struct {
	gin.ResponseWriter
	held bytes.Buffer
	gz   *gzip.Writer
	pass bool
}

func compress(c *gin.Context) {
	if !strings.Contains(c.GetHeader("Accept-Encoding"), "gzip") || !strings.HasPrefix(c.Request.URL.Path, "/api/") {
		c.Next()
		return
	}
	w := &compressed{ResponseWriter: c.Writer}
	c.Writer = w
	defer w.end()
	c.Next()
}

func (w *compressed) Write(b []byte) (int, error) {
	if w.gz != nil {
		return w.gz.Write(b)
	}
	if w.pass || !strings.HasPrefix(w.Header().Get("Content-Type"), "application/json") {
		w.pass = true
		return w.ResponseWriter.Write(b)
	}
	w.held.Write(b)
	if w.held.Len() < compressFrom {
		return len(b), nil
	}
	w.Header().Del("Content-Length")
	w.Header().Set("Content-Encoding", "gzip")
	w.Header().Add("Vary", "Accept-Encoding")
	var err error
	if w.gz, err = gzip.NewWriterLevel(w.ResponseWriter, gzip.BestSpeed); err != nil {
		return 0, err
	}
	_, err = w.gz.Write(w.held.Bytes())
	return len(b), err
}

// WriteString does the same for strings.
func (w *compressed) WriteString(s string) (int, error) { return w.Write([]byte(s)) }

func (w *compressed) end() {
	if w.gz != nil {
		_ = w.gz.Close() // whoever asked has gone
	} else if w.held.Len() > 0 {
		_, _ = w.ResponseWriter.Write(w.held.Bytes())
	}
}

// Written says whether an answer has begun, held back or not.
func (w *compressed) Written() bool { return w.held.Len() > 0 || w.ResponseWriter.Written() }
