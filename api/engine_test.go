package api

import (
	"context"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"testing"
	"testing/fstest"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/stretchr/testify/require"
)

// Whoever leaves is not worked for: what a handler hands on ends with the request.
func TestAHandlersContextEndsWithItsRequest(t *testing.T) {
	ended := make(chan struct{})
	s := &Server{Log: slog.Default(), Hosts: []string{"127.0.0.1"}}
	engine := s.engine(fstest.MapFS{"index.html": {}})
	started := make(chan struct{})
	engine.GET("/waits", func(c *gin.Context) {
		close(started)
		<-context.Context(c).Done()
		close(ended)
	})
	srv := httptest.NewServer(compressed(engine))
	defer srv.Close()
	ctx, leave := context.WithCancel(context.Background())
	req, err := http.NewRequestWithContext(ctx, "GET", srv.URL+"/waits", nil)
	require.NoError(t, err)
	go func() {
		res, err := http.DefaultClient.Do(req)
		if err == nil {
			res.Body.Close()
		}
	}()
	<-started
	leave()
	select {
	case <-ended:
	case <-time.After(5 * time.Second):
		t.Fatal("the handler was not told")
	}
}
