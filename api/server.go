package api

import (
	"compress/gzip"
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"runtime/debug"
	"strings"
	"time"

	"github.com/klauspost/compress/gzhttp"

	"github.com/gin-gonic/gin"
	"github.com/gin-gonic/gin/binding"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"

	"episema/app"
	"episema/internal/problem"
)

// Server answers the contract's calls.
type Server struct {
	Studio *app.Studio
	Queue  *river.Client[pgx.Tx]
	Log    *slog.Logger
	// Hosts are the host names under which the server may be addressed, without ports.
	Hosts []string

	contract *contract
	files    *static
	crossing http.CrossOriginProtection // turns away what other sites send
}

// compressFrom is the size in bytes from which JSON is sent compressed.
const compressFrom = 4096

// maxJSON bounds the body of every call but an upload.
const maxJSON = 64 << 20

// Handler returns the whole HTTP handler: the API and the front end. It panics if the contract it was built with cannot be read.
func (s *Server) Handler(front fs.FS) http.Handler { return compressed(s.engine(front)) }

func (s *Server) engine(front fs.FS) *gin.Engine {
	var err error
	if s.contract, err = readContract(); err != nil {
		panic(err)
	}
	gin.SetMode(gin.ReleaseMode)
	binding.EnableDecoderDisallowUnknownFields = true // a field that nobody knows would be dropped without a word
	r := gin.New()
	r.ContextWithFallback = true // handlers hand gin's context on: it ends when whoever asked has gone
	s.files = newStatic(front)
	r.Use(s.request, s.guard, s.check)
	strict := NewStrictHandlerWithOptions(s, nil, StrictGinServerOptions{
		RequestErrorHandlerFunc: func(c *gin.Context, err error) {
			s.problem(c, http.StatusBadRequest, "the call is not understood: "+err.Error())
		},
		HandlerErrorFunc: s.fail,
		ResponseErrorHandlerFunc: func(c *gin.Context, err error) {
			if c.Writer.Written() && c.Request.Context().Err() == nil {
				// Part of the answer is out: it has to end so that it is not taken for the whole.
				s.Log.Error("an answer broke off", "request_id", c.GetString("request_id"), "path", c.Request.URL.Path, "error", err)
				panic(http.ErrAbortHandler)
			}
			s.fail(c, err)
		},
	})
	RegisterHandlersWithOptions(r, strict, GinServerOptions{ErrorHandler: func(c *gin.Context, err error, status int) {
		s.problem(c, status, "the call is not understood: "+err.Error())
	}})
	r.GET("/healthz", s.health)
	r.NoRoute(func(c *gin.Context) {
		path := c.Request.URL.Path
		if strings.HasPrefix(path, "/api/") {
			s.problem(c, http.StatusNotFound, "there is no such call")
			return
		}
		if c.Request.Method != http.MethodGet && c.Request.Method != http.MethodHead {
			s.problem(c, http.StatusMethodNotAllowed, "there is nothing to send to here")
			return
		}
		if !s.opening(c) {
			s.files.serve(c)
		}
	})
	return r
}

// compressed sends the JSON of a handler compressed to those who take it, and a page that brings some. Pixels come as they are, or in a form of
// their own; files of the front end are compressed already.
func compressed(h http.Handler) http.Handler {
	compress, err := gzhttp.NewWrapper(gzhttp.MinSize(compressFrom), gzhttp.CompressionLevel(gzip.BestSpeed), gzhttp.ContentTypes([]string{"application/json", "text/html"}))
	if err != nil {
		panic(err)
	}
	return compress(h)
}

// health says whether the server and its database answer.
func (s *Server) health(c *gin.Context) {
	ctx, cancel := context.WithTimeout(c, 2*time.Second)
	defer cancel()
	if err := s.Studio.Ping(ctx); err != nil {
		s.problem(c, http.StatusServiceUnavailable, "the database does not answer")
		return
	}
	c.String(http.StatusOK, "well\n")
}

// request gives each request an id, logs it, and turns a panic into a problem.
func (s *Server) request(c *gin.Context) {
	id := uuid.NewString()[:8]
	c.Set("request_id", id)
	c.Header("X-Request-Id", id)
	start := time.Now()
	defer func() {
		if v := recover(); v == http.ErrAbortHandler {
			panic(v)
		} else if v != nil {
			s.Log.Error("panic", "request_id", id, "path", c.Request.URL.Path, "value", v, "stack", string(debug.Stack()))
			s.problem(c, http.StatusInternalServerError, "something broke on the server; nothing of yours is lost")
		}
		s.Log.Debug("request", "request_id", id, "method", c.Request.Method, "path", c.Request.URL.Path, "status", c.Writer.Status(), "took", time.Since(start))
	}()
	c.Next()
}

// guard turns away what another site or a rebound name sends, and sets the headers that keep the page to
// itself.
func (s *Server) guard(c *gin.Context) {
	h := c.Writer.Header()
	h.Set("Content-Security-Policy", "default-src 'none'; script-src 'self'"+s.files.own+"; style-src 'self' 'unsafe-inline'; img-src 'self' blob: data:; font-src 'self'; connect-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'")
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "no-referrer")
	// A window that somebody opened by its address has no other site's hand on it. To sever it from none all the same would start another
	// process of the browser's, once the answer is there: 50 to 100 ms.
	if c.GetHeader("Sec-Fetch-Site") != "none" {
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
	}
	h.Set("Cross-Origin-Resource-Policy", "same-origin")
	if !s.known(c.Request.Host) {
		s.problem(c, http.StatusMisdirectedRequest, "this server does not answer to the name "+c.Request.Host)
		c.Abort()
		return
	}
	if s.crossing.Check(c.Request) != nil {
		s.problem(c, http.StatusForbidden, "calls from other sites are not taken")
		c.Abort()
		return
	}
	if c.Request.Body != nil && c.Request.Body != http.NoBody {
		c.Request.Body = &patient{c.Request.Body, http.NewResponseController(c.Writer)}
	}
	// Whatever a body calls itself: only files may be larger, and their own calls count them.
	if !s.contract.takesFile(c.Request.Method + " " + c.FullPath()) {
		c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, maxJSON)
	}
	c.Next()
}

// patient reads a body as long as some of it comes every now and then.
type patient struct {
	io.ReadCloser
	conn *http.ResponseController
}

const patience = 30 * time.Second

func (p *patient) Read(b []byte) (int, error) {
	// Only while it is read: a body need not be read to its end, and what is asked for may take longer. Where it cannot be
	// set it is not needed.
	_ = p.conn.SetReadDeadline(time.Now().Add(patience))
	defer func() { _ = p.conn.SetReadDeadline(time.Time{}) }()
	return p.ReadCloser.Read(b)
}

func (s *Server) known(hostport string) bool {
	host := hostport
	if h, _, err := net.SplitHostPort(hostport); err == nil {
		host = h
	}
	for _, k := range s.Hosts {
		if strings.EqualFold(host, k) {
			return true
		}
	}
	return false
}

func (s *Server) problem(c *gin.Context, status int, message string) {
	if c.Writer.Written() {
		return
	}
	c.JSON(status, Problem{Message: message, RequestId: c.GetString("request_id")})
}

// fail turns an error of the application into a problem with the right status.
func (s *Server) fail(c *gin.Context, err error) {
	var tooLarge *http.MaxBytesError
	switch {
	case problem.IsMendable(err):
		s.problem(c, http.StatusUnprocessableEntity, err.Error())
	case errors.As(err, &tooLarge):
		s.problem(c, http.StatusRequestEntityTooLarge, "the call is larger than the document of a picture can be")
	case errors.Is(err, app.ErrNotFound):
		s.problem(c, http.StatusNotFound, err.Error())
	case app.IsBadText(err):
		s.problem(c, http.StatusUnprocessableEntity, "a text holds a character that cannot be kept (NUL); leave it out")
	case errors.Is(err, app.ErrStale):
		s.problem(c, http.StatusConflict, "the document of that revision can be had no more; send it whole")
	case errors.Is(err, app.ErrNothing):
		s.problem(c, http.StatusConflict, err.Error())
	case c.Request.Context().Err() != nil:
		c.Status(499) // whoever asked has gone
	case app.IsAway(err):
		s.Log.Error("the database is away", "request_id", c.GetString("request_id"), "path", c.Request.URL.Path, "error", err)
		c.Header("Retry-After", "1")
		s.problem(c, http.StatusServiceUnavailable, "the database is being started again; what was saved is safe. Try again in a moment")
	default:
		id := c.GetString("request_id")
		s.Log.Error("request failed", "request_id", id, "method", c.Request.Method, "path", c.Request.URL.Path, "error", err)
		s.problem(c, http.StatusInternalServerError, fmt.Sprintf("that did not work on the server; nothing of yours is lost. If it happens again, quote %s", id))
	}
}
