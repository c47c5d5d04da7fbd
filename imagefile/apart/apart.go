// Package apart runs what reads foreign files in a process of its own: libvips, librsvg and LittleCMS are large, and a file
// may be made to crash, hang or swell them. Such a process has limits of memory and time, no network, and where the system
// allows it no file but those handed over. One that dies costs one file a sentence.
//
// The process is this program again, told by its environment; see init.
package apart

import (
	"context"
	"encoding/gob"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"strings"
	"sync"
	"syscall"
	"time"

	"episema/imagefile"
)

// call is what a process is asked to do.
type call struct {
	Op                          string
	Path, Out, Original, Format string
	Quality                     int
	Limits                      imagefile.Limits
	Info                        imagefile.Info
	Options                     imagefile.Options
	Data                        []byte
	FullW, FullH                float64
	X, Y, W, H                  int
	Time                        time.Duration

	Memory int64         // bytes of address space it may take
	CPU    time.Duration // and time of the processor
}

// answer is what it says.
type answer struct {
	Problem  string
	Rejected bool // the problem is the file's
	Info     imagefile.Info
	W, H     int
	Data     []byte
}

func (a *answer) err() error {
	switch {
	case a.Problem == "":
		return nil
	case a.Rejected:
		return &imagefile.Rejected{Problem: a.Problem}
	}
	return errors.New(a.Problem)
}

// bounds of one call.
type bounds struct {
	memory int64 // bytes of address space
	wall   time.Duration
}

const (
	mib = 1 << 20
	// room is what a process takes before it does anything: the program, its libraries and their threads' stacks.
	room = 3072 * mib
	// most is what none may pass.
	most    = room + 3072*mib
	mostCPU = 2 * time.Hour
)

// Pool starts processes, one of them in advance: loading the libraries takes as long as reading a small picture. No more than
// twice as many calls as there are processors, and two, are under way at once; others wait.
type Pool struct {
	dir     string // where processes have folders of their own
	spare   chan *process
	busy    chan struct{} // holds one for each call that is under way
	mu      sync.Mutex
	ended   bool
	filling bool // one is being started
}

// NewPool gives a pool whose processes work in folders below dir, which should be on the disk that the files are on.
func NewPool(dir string) *Pool {
	return &Pool{dir: dir, spare: make(chan *process, 1), busy: make(chan struct{}, 2*runtime.NumCPU()+2)}
}

// Close ends what was started in advance.
func (o *Pool) Close() {
	o.mu.Lock()
	o.ended = true
	o.mu.Unlock()
	select {
	case p := <-o.spare:
		p.kill()
	default:
	}
}

// take gives a process, and starts the next one in advance.
func (o *Pool) take() (p *process, err error) {
	select {
	case p = <-o.spare:
	default:
		if p, err = o.start(); err != nil {
			return nil, err
		}
	}
	o.mu.Lock()
	fill := !o.ended && !o.filling && len(o.spare) == 0
	o.filling = o.filling || fill
	o.mu.Unlock()
	if fill {
		go o.fill()
	}
	return p, nil
}

func (o *Pool) fill() {
	next, err := o.start()
	o.mu.Lock()
	defer o.mu.Unlock()
	o.filling = false
	if err != nil {
		return // whoever needs one will be told
	}
	if o.ended {
		go next.kill()
		return
	}
	o.spare <- next // nobody else fills it
}

// process is a running one.
type process struct {
	cmd  *exec.Cmd
	dir  string // its own
	in   io.WriteCloser
	out  *os.File
	send *gob.Encoder
	get  *gob.Decoder
	said *words
	once sync.Once
	gone error
}

// noNetwork is the flag that gives a process an empty network of its own; 0 where this one may not do that.
var noNetwork = sync.OnceValue(func() uintptr {
	cmd := exec.Command("/bin/true")
	cmd.SysProcAttr = &syscall.SysProcAttr{Cloneflags: syscall.CLONE_NEWNET}
	if cmd.Run() == nil {
		return syscall.CLONE_NEWNET
	}
	return 0
})

func (o *Pool) start() (p *process, err error) {
	self, err := os.Executable()
	if err != nil {
		return nil, err
	}
	dir, err := os.MkdirTemp(o.dir, "apart-*")
	if err != nil {
		return nil, err
	}
	defer func() {
		if err != nil {
			os.RemoveAll(dir)
		}
	}()
	cmd := exec.Command(self)
	cmd.Env = []string{asked + "=1", "PATH=/usr/bin:/bin", "HOME=/nonexistent", "MALLOC_ARENA_MAX=2", "TMPDIR=" + dir}
	cmd.SysProcAttr = &syscall.SysProcAttr{Cloneflags: noNetwork(), Setpgid: true}
	p = &process{cmd: cmd, dir: dir, said: &words{}}
	cmd.Stderr = p.said
	if p.in, err = cmd.StdinPipe(); err != nil {
		return nil, err
	}
	r, w, err := os.Pipe()
	if err != nil {
		return nil, err
	}
	cmd.Stdout = w
	p.out = r
	if err := startConfined(cmd, []string{self}, []string{dir}); err != nil {
		r.Close()
		w.Close()
		return nil, err
	}
	w.Close()
	p.send, p.get = gob.NewEncoder(p.in), gob.NewDecoder(r)
	return p, nil
}

// hand puts a file into the process's folder and gives its path there.
func (p *process) hand(path, name string) (string, error) {
	to := filepath.Join(p.dir, name)
	if err := os.Link(path, to); err == nil {
		return to, nil
	}
	from, err := os.Open(path) // on another disk
	if err != nil {
		return "", err
	}
	defer from.Close()
	f, err := os.OpenFile(to, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return "", err
	}
	defer f.Close()
	if _, err := io.Copy(f, from); err != nil {
		return "", err
	}
	return to, f.Close()
}

// ask has the process do one thing. It kills the process where that takes longer than wall, or where nobody waits any more.
func (p *process) ask(ctx context.Context, c call, wall, grace time.Duration) (*answer, error) {
	type reply struct {
		a   answer
		err error
	}
	done := make(chan reply, 1)
	go func() {
		var r reply
		if r.err = p.send.Encode(c); r.err == nil {
			r.err = p.get.Decode(&r.a)
		}
		done <- r
	}()
	timer := time.NewTimer(wall)
	defer timer.Stop()
	stopped := ctx.Done()
	for {
		select {
		case r := <-done:
			if r.err != nil {
				return nil, p.ended(r.err)
			}
			return &r.a, nil
		case <-timer.C:
			p.kill()
			if ctx.Err() != nil {
				return nil, ctx.Err()
			}
			return nil, &imagefile.Rejected{Problem: fmt.Sprintf("reading the file took longer than %s; it may be made to be slow", wall.Round(time.Second))}
		case <-stopped:
			stopped = nil
			timer.Reset(grace)
		}
	}
}

// ended says why a process gave no answer.
func (p *process) ended(err error) error {
	p.kill()
	var exit *exec.ExitError
	if errors.As(p.gone, &exit) {
		if s, ok := exit.Sys().(syscall.WaitStatus); ok && s.Signaled() && (s.Signal() == syscall.SIGXCPU || s.Signal() == syscall.SIGKILL) {
			return &imagefile.Rejected{Problem: "reading the file took longer than a picture of its size needs; it may be made to be slow"}
		}
		if said := p.said.String(); strings.Contains(said, "memory") || strings.Contains(said, "allocate") {
			return &imagefile.Rejected{Problem: "reading the file needs more memory than a picture of its size does; it may be made to swell"}
		}
		return &imagefile.Rejected{Problem: "the file ended what reads it; it is damaged, or made to do so"}
	}
	return fmt.Errorf("what reads files did not answer: %w", err)
}

func (p *process) kill() {
	p.once.Do(func() {
		syscall.Kill(-p.cmd.Process.Pid, syscall.SIGKILL)
		p.in.Close()
		p.gone = p.cmd.Wait()
		p.out.Close()
		os.RemoveAll(p.dir)
	})
}

// run has a process of its own do one call. Files of the call that are given by path are handed over; what it makes in its
// folder is moved to out.
func (o *Pool) run(ctx context.Context, b bounds, c call, out string) (*answer, error) {
	select {
	case o.busy <- struct{}{}:
		defer func() { <-o.busy }()
	case <-ctx.Done():
		return nil, ctx.Err()
	}
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	p, err := o.take()
	if err != nil {
		return nil, err
	}
	defer p.kill()
	paths := []string{c.Path, c.Original, c.Options.InkFile, out, p.dir}
	for at, name := range map[*string]string{&c.Path: "in", &c.Original: "original", &c.Options.InkFile: "inks.icc"} {
		if *at != "" {
			if *at, err = p.hand(*at, name); err != nil {
				return nil, err
			}
		}
	}
	if out != "" {
		c.Out = filepath.Join(p.dir, "out"+filepath.Ext(out))
	}
	c.Memory, c.CPU = b.memory, 2*b.wall
	a, err := p.ask(ctx, c, b.wall, 0)
	if err == nil {
		err = a.err()
	}
	if err != nil {
		return nil, clean(err, append(paths, c.Path, c.Original, c.Options.InkFile, c.Out)...)
	}
	if out != "" {
		if err := os.Rename(c.Out, out); err != nil {
			return nil, err
		}
	}
	return a, nil
}

// words keeps the beginning of what a process says: what a runtime that gives up says first is why.
type words struct {
	mu sync.Mutex
	b  []byte
}

func (t *words) Write(b []byte) (int, error) {
	t.mu.Lock()
	defer t.mu.Unlock()
	t.b = append(t.b, b[:min(len(b), 4096-len(t.b))]...)
	return len(b), nil
}

func (t *words) String() string {
	t.mu.Lock()
	defer t.mu.Unlock()
	return string(t.b)
}

// budget is what a picture of so many pixels may cost; the process itself tells how many there are.
func budget(lim imagefile.Limits) bounds {
	return bounds{memory: room, wall: min(lim.Time, 10*time.Second+time.Duration(lim.Pixels)*time.Microsecond/2)}
}

// BuildPyramid is imagefile.BuildPyramid.
func (o *Pool) BuildPyramid(ctx context.Context, original, dir string, lim imagefile.Limits) (*imagefile.Pyramid, error) {
	if _, err := o.run(ctx, budget(lim), call{Op: "pyramid", Path: original, Limits: lim}, dir); err != nil {
		// Another may have been first; its levels are the same.
		if p, openErr := imagefile.OpenPyramid(dir); openErr == nil {
			return p, nil
		}
		return nil, err
	}
	return imagefile.OpenPyramid(dir)
}

// Decode is imagefile.Decode.
func (o *Pool) Decode(ctx context.Context, path, raw string, lim imagefile.Limits) (imagefile.Info, error) {
	a, err := o.run(ctx, budget(lim), call{Op: "decode", Path: path, Limits: lim}, raw)
	if err != nil {
		return imagefile.Info{}, err
	}
	return a.Info, nil
}

// Encode is imagefile.Encode.
func (o *Pool) Encode(ctx context.Context, raw string, info imagefile.Info, original, format string, quality int, opts imagefile.Options, out string) error {
	pixels := int64(info.Width) * int64(info.Height)
	b := bounds{memory: room + 24*pixels, wall: time.Minute + time.Duration(pixels)*10*time.Microsecond} // AVIF takes its time
	_, err := o.run(ctx, b, call{Op: "encode", Path: raw, Info: info, Original: original, Format: format, Quality: quality, Options: opts}, out)
	return err
}

// CheckInkProfile is imagefile.CheckInkProfile.
func (o *Pool) CheckInkProfile(ctx context.Context, profile []byte) error {
	_, err := o.run(ctx, bounds{memory: room, wall: 10 * time.Second}, call{Op: "inks", Data: profile}, "")
	return err
}

// DrawingToPNG is imagefile.DrawingToPNG.
func (o *Pool) DrawingToPNG(ctx context.Context, svg []byte, w, h int, limit time.Duration, path string) error {
	b := bounds{memory: room + 12*int64(w)*int64(h) + 60*int64(len(svg)), wall: limit}
	_, err := o.run(ctx, b, call{Op: "png", Data: svg, W: w, H: h, Time: limit}, path)
	return err
}

// clean takes the server's paths out of what is said about a file.
func clean(err error, paths ...string) error {
	var r *imagefile.Rejected
	if !errors.As(err, &r) {
		return err
	}
	s := r.Problem
	for _, p := range paths {
		if p != "" {
			s = strings.ReplaceAll(s, p, "the file")
		}
	}
	if strings.Contains(s, "No space left") {
		return errors.New("the server's disk is full: make room, then try again; the file is not at fault")
	}
	return &imagefile.Rejected{Problem: s}
}
