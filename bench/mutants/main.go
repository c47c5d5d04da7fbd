// Command mutants breaks the code on purpose, one change at a time in a copy of what is committed, and says which of the breaks
// the tests notice. The changes stand in list.json: the file, what it says, what it says instead, and the packages whose tests
// are run.
//
//	go run ./bench/mutants [-only regexp] [-sample n -seed s]
//
// With -chance it does not take the list: it breaks so many operators of each package, drawn by chance, and prints the share
// that the package's own tests notice.
//
//	go run ./bench/mutants -chance 40 [-seed s] core/colour core/proof
package main

import (
	"bytes"
	"context"
	_ "embed"
	"encoding/json"
	"flag"
	"fmt"
	"log"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"time"
)

//go:embed list.json
var list []byte

// mutant is one breaking change.
type mutant struct {
	Name  string   // what no longer works
	File  string   // from the root of the project
	Old   string   // stands in the file once
	New   string   // and becomes this
	Tests []string // packages of Go, or "web" for the tests of the browser's code
}

// mutants reads the list.
func mutants() ([]mutant, error) {
	var all []mutant
	err := json.Unmarshal(list, &all)
	return all, err
}

const longest = 10 * time.Minute // of one run of tests

func main() {
	only, sample, seed := flag.String("only", "", "of these names"), flag.Int("sample", 0, "so many of them, by chance"), flag.Uint64("seed", 1, "of that chance")
	chance := flag.Int("chance", 0, "break so many operators of each package that is named, instead of the list")
	flag.Parse()
	all, err := mutants()
	check(err)
	match := regexp.MustCompile(*only)
	var some []mutant
	for _, m := range all {
		if match.MatchString(m.Name) {
			some = append(some, m)
		}
	}
	if *sample > 0 && *sample < len(some) {
		rand.New(rand.NewPCG(*seed, 0)).Shuffle(len(some), func(i, j int) { some[i], some[j] = some[j], some[i] })
		some = some[:*sample]
	}
	dir, err := os.MkdirTemp("", "mutants")
	check(err)
	defer os.RemoveAll(dir)
	check(os.Chmod(dir, 0o755)) // the database does not run as root
	check(exec.Command("git", "clone", "-q", ".", dir).Run())
	here, err := os.Getwd()
	check(err)
	for _, made := range []string{"web/node_modules", "web/dist"} {
		check(os.RemoveAll(filepath.Join(dir, made)))
		check(os.Symlink(filepath.Join(here, made), filepath.Join(dir, made)))
	}
	if *chance > 0 {
		check(byChance(dir, flag.Args(), *chance, *seed))
		return
	}
	missed := 0
	for _, m := range some {
		path := filepath.Join(dir, m.File)
		before, err := os.ReadFile(path)
		check(err)
		if n := strings.Count(string(before), m.Old); n != 1 {
			log.Fatalf("%s: what it breaks stands in %s %d times, not once", m.Name, m.File, n)
		}
		check(os.WriteFile(path, []byte(strings.Replace(string(before), m.Old, m.New, 1)), 0o600))
		start := time.Now()
		said, noticed := run(dir, m.Tests, longest)
		check(os.WriteFile(path, before, 0o600))
		if !noticed {
			missed++
			said = "NOT NOTICED"
		}
		fmt.Printf("%-50s %s (%.0f s)\n", m.Name, said, time.Since(start).Seconds())
	}
	fmt.Printf("%d of %d breaking changes were noticed\n", len(some)-missed, len(some))
	if missed > 0 {
		os.RemoveAll(dir)
		os.Exit(1)
	}
}

// failure finds the first test that failed.
var failure = regexp.MustCompile(`(?m)--- FAIL: (\S+)|FAIL +(\S+\.test\.ts\S* > .*)$|\[(?:build|setup) failed\]`)

// run runs tests and says which of them noticed something; those that take longer than a limit did.
func run(dir string, tests []string, limit time.Duration) (string, bool) {
	ctx, end := context.WithTimeout(context.Background(), longest+limit)
	defer end()
	cmd := exec.CommandContext(ctx, "go", append([]string{"test", "-failfast", "-count=1", "-timeout", limit.String()}, tests...)...)
	cmd.Dir = dir
	if tests[0] == "web" {
		cmd = exec.CommandContext(ctx, "npx", "--no-install", "vitest", "run")
		cmd.Dir = filepath.Join(dir, "web")
	}
	out, err := cmd.CombinedOutput()
	if err == nil {
		return "", false
	}
	f := failure.FindSubmatch(out)
	if f == nil {
		return "noticed: " + string(bytes.TrimSpace(out[max(0, len(out)-80):])), true
	}
	if bytes.HasSuffix(f[0], []byte(" failed]")) {
		log.Fatalf("the change does not compile:\n%s", out)
	}
	return "noticed by " + string(f[1]) + string(f[2]), true
}

func check(err error) {
	if err != nil {
		log.Fatal(err)
	}
}
