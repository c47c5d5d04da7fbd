package swatchreader

import (
	"bufio"
	"context"
	"net"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/internal/problem"
	"episema/standin/reader"
)

func listening(t *testing.T) net.Listener {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	t.Cleanup(func() { l.Close() })
	return l
}

func TestAReaderMeasuresThreeTimes(t *testing.T) {
	l := listening(t)
	ctx, stop := context.WithCancel(context.Background())
	served := make(chan error, 1)
	go func() { served <- reader.New(7).Serve(ctx, l) }()
	s := Reader(l.Addr().String())
	places, err := s.Places(ctx)
	require.NoError(t, err)
	assert.Equal(t, reader.Swatches(), places)
	seen := map[string]bool{}
	for i := range places {
		r, err := s.Measure(ctx, i+1)
		require.NoError(t, err)
		require.Len(t, r.Each, 3)
		assert.Positive(t, r.Spread, "an instrument never reads the same twice")
		assert.Less(t, r.Spread, 1.0)
		for _, e := range r.Each {
			assert.LessOrEqual(t, colour.DeltaE00(e, r.Lab), r.Spread+1e-9)
		}
		for k := range 3 {
			assert.InDelta(t, (r.Each[0][k]+r.Each[1][k]+r.Each[2][k])/3, r.Lab[k], 1e-9)
		}
		seen[colour.Hex(r.Lab)] = true
	}
	assert.Len(t, seen, len(places), "each is another colour")
	_, err = s.Measure(ctx, 99)
	assert.ErrorContains(t, err, "swatches 1 to 5")
	stop()
	require.NoError(t, <-served)
	_, err = s.Measure(context.Background(), 1)
	assert.ErrorContains(t, err, "does not answer")
	_, err = Reader("").Measure(ctx, 1)
	assert.ErrorContains(t, err, "--reader")
}

// A reader that hangs up, is silent, babbles or lies is a sentence, and soon.
func TestAReaderThatMisbehavesIsAWord(t *testing.T) {
	for says, answer := range map[string]string{
		"hung up in the middle":  "LAB 50 0",
		"is no number":           "LAB 50 0 x\r\nEND\r\n",
		"NaN is none":            "",
		"no colour of a surface": "LAB 5000 0 0\r\nEND\r\n",
		"measured nothing":       "END\r\n",
		"a spectrum that is":     "SPECTRUM 400 10 0.1 0.2\r\nEND\r\n",
		"does not come to an":    strings.Repeat("WAIT\r\n", 300),
		"line without end":       strings.Repeat("x", 9000),
		"says: the lamp is cold": "ERROR the lamp is cold\r\n",
	} {
		if answer == "" {
			says, answer = "is no number", "LAB NaN 0 0\r\nEND\r\n"
		}
		l := listening(t)
		go func() {
			conn, err := l.Accept()
			if err != nil {
				return
			}
			_, _ = bufio.NewReader(conn).ReadString('\n')
			_, _ = conn.Write([]byte(answer))
			conn.Close()
		}()
		_, err := Reader(l.Addr().String()).Measure(context.Background(), 0)
		var no *problem.Input
		require.ErrorAs(t, err, &no, says)
		assert.Contains(t, err.Error(), says)
		assert.Contains(t, err.Error(), "Nothing was changed")
	}
	// A silent one is left when whoever asked has gone.
	l := listening(t)
	ctx, cancel := context.WithTimeout(context.Background(), 100*time.Millisecond)
	defer cancel()
	begun := time.Now()
	_, err := Reader(l.Addr().String()).Measure(ctx, 0)
	assert.Error(t, err)
	assert.Less(t, time.Since(begun), patience)
}
