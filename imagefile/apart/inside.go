package apart

import (
	"encoding/gob"
	"errors"
	"fmt"
	"io"
	"os"
	"time"

	"golang.org/x/sys/unix"

	"episema/imagefile"
)

// asked is how a process is told by its environment that it is one.
const asked = "EPISEMA_APART"

// init makes any program that imports this package, tests among them, the process apart when it is asked to be.
func init() {
	if os.Getenv(asked) == "" {
		return
	}
	bound(unix.RLIMIT_CORE, 0, 0)
	bound(unix.RLIMIT_NOFILE, 256, 256)
	bound(unix.RLIMIT_AS, room, most)
	bound(unix.RLIMIT_CPU, 60, uint64(mostCPU.Seconds()))
	// A page that waits for a small answer comes before a file that is read. A priority is a thread's own here, handed on to those that it
	// starts: it is set for the group, which is this process alone, so that Go's other threads have it too.
	_ = unix.Setpriority(unix.PRIO_PGRP, 0, 10)
	if err := imagefile.Ready(); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	serve()
	os.Exit(0)
}

// bound sets a limit that the process may raise itself up to most, which nothing raises.
func bound(what int, v, most uint64) {
	if err := unix.Setrlimit(what, &unix.Rlimit{Cur: min(v, most), Max: most}); err != nil {
		fmt.Fprintln(os.Stderr, "no limit is set:", err)
		os.Exit(1)
	}
}

// allow lets the process take what a call may cost.
func allow(memory int64, cpu time.Duration) {
	var used unix.Rusage
	unix.Getrusage(unix.RUSAGE_SELF, &used)
	bound(unix.RLIMIT_AS, uint64(max(memory, room)), most)
	bound(unix.RLIMIT_CPU, uint64(used.Utime.Sec+used.Stime.Sec)+uint64(cpu.Seconds())+1, uint64(mostCPU.Seconds()))
}

// allowPicture raises that for a picture, by what its header says.
func allowPicture(c *call) error {
	info, err := imagefile.Inspect(c.Path, c.Limits)
	if err != nil {
		return err
	}
	pixels := int64(info.Width) * int64(info.Height)
	allow(room+12*pixels, min(2*c.Limits.Time, 20*time.Second+time.Duration(pixels)*time.Microsecond))
	return nil
}

// serve answers until its input ends.
func serve() {
	get, send := gob.NewDecoder(os.Stdin), gob.NewEncoder(os.Stdout)
	var drawing *imagefile.Rendering
	for {
		var c call
		if err := get.Decode(&c); err != nil {
			if errors.Is(err, io.EOF) {
				return
			}
			os.Exit(1)
		}
		allow(c.Memory, c.CPU)
		a, err := do(&c, &drawing)
		if err != nil {
			var r *imagefile.Rejected
			a = answer{Problem: err.Error(), Rejected: errors.As(err, &r)}
		}
		if err := send.Encode(a); err != nil {
			os.Exit(1)
		}
	}
}

// readMask reads a mask of the size that is asked for.
func readMask(c *call) (a answer, err error) {
	info, err := imagefile.Inspect(c.Path, c.Limits)
	if err != nil {
		return a, err
	}
	if c.W != 0 && (info.Width != c.W || info.Height != c.H) {
		return a, &imagefile.Rejected{Problem: fmt.Sprintf("the mask has %d x %d pixels, the picture %d x %d; save the mask at the picture's full size", info.Width, info.Height, c.W, c.H)}
	}
	m, err := imagefile.ReadMask(c.Path)
	if err == nil {
		a.W, a.H, a.Data = m.W, m.H, bytesOf(m.Pix)
	}
	return a, err
}

func do(c *call, drawing **imagefile.Rendering) (a answer, err error) {
	switch c.Op {
	case "pyramid", "decode", "mask":
		if err := allowPicture(c); err != nil {
			return a, err
		}
	}
	switch c.Op {
	case "pyramid":
		var p *imagefile.Pyramid
		if p, err = imagefile.BuildPyramid(c.Path, c.Out, c.Limits); err == nil {
			p.Close()
		}
	case "decode":
		a.Info, err = imagefile.Decode(c.Path, c.Out, c.Limits)
	case "encode":
		err = imagefile.Encode(c.Path, c.Info, c.Original, c.Format, c.Quality, c.Options, c.Out)
	case "inks":
		err = imagefile.CheckInkProfile(c.Data)
	case "png":
		err = imagefile.DrawingToPNG(c.Data, c.W, c.H, c.Time, c.Out)
	case "depth":
		m, e := imagefile.EmbeddedDepth(c.Path)
		if e == nil && m != nil {
			a.W, a.H, a.Data = m.W, m.H, bytesOf(m.Pix)
		}
		err = e
	case "mask":
		return readMask(c)
	case "open":
		*drawing, err = imagefile.OpenDrawing(c.Data)
	case "render":
		if *drawing == nil {
			return a, errors.New("no drawing is open")
		}
		a.Data, err = (*drawing).RGBA(c.FullW, c.FullH, c.X, c.Y, c.W, c.H, c.Time)
	default:
		err = fmt.Errorf("unknown call %q", c.Op)
	}
	return a, err
}
