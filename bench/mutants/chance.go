package main

import (
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"
)

// spot is a place of a file where an operator can become another one.
type spot struct {
	file     string // from the root of the project
	at       int    // byte
	line     int
	old, new string
}

// instead says what each operator becomes. They are the changes that tools for mutation testing of Go make: arithmetic,
// bounds and negations of conditions, signs, counting.
var instead = map[token.Token][]token.Token{
	token.ADD: {token.SUB}, token.SUB: {token.ADD}, token.MUL: {token.QUO}, token.QUO: {token.MUL}, token.REM: {token.MUL},
	token.LSS: {token.LEQ, token.GEQ}, token.LEQ: {token.LSS, token.GTR}, token.GTR: {token.GEQ, token.LEQ}, token.GEQ: {token.GTR, token.LSS},
	token.EQL: {token.NEQ}, token.NEQ: {token.EQL}, token.LAND: {token.LOR}, token.LOR: {token.LAND}, token.INC: {token.DEC}, token.DEC: {token.INC},
}

// spotsOf lists the spots of a package that its tests run through, and tells how long those take.
func spotsOf(dir, pkg string) (out []spot, took time.Duration, err error) {
	profile := filepath.Join(dir, "cover.out")
	cmd := exec.Command("go", "test", "-count=1", "-coverprofile", profile, "./"+pkg)
	cmd.Dir = dir
	start := time.Now()
	if out, err := cmd.CombinedOutput(); err != nil {
		return nil, 0, fmt.Errorf("the tests of %s fail before anything is broken:\n%s", pkg, out)
	}
	took = time.Since(start)
	b, err := os.ReadFile(profile)
	if err != nil {
		return nil, 0, err
	}
	run := map[string][][4]int{}
	for _, m := range regexp.MustCompile(`(?m)^\S+?/(`+regexp.QuoteMeta(pkg)+`/\S+\.go):(\d+)\.(\d+),(\d+)\.(\d+) \d+ [1-9]\d*$`).FindAllStringSubmatch(string(b), -1) {
		var r [4]int
		for i := range r {
			r[i], _ = strconv.Atoi(m[2+i]) // the pattern takes digits alone
		}
		run[m[1]] = append(run[m[1]], r)
	}
	for file, ranges := range run {
		set := token.NewFileSet()
		tree, err := parser.ParseFile(set, filepath.Join(dir, file), nil, 0)
		if err != nil {
			return nil, 0, err
		}
		add := func(pos token.Pos, op token.Token, to string) {
			p := set.Position(pos)
			for _, r := range ranges {
				if (p.Line > r[0] || p.Line == r[0] && p.Column >= r[1]) && (p.Line < r[2] || p.Line == r[2] && p.Column <= r[3]) {
					out = append(out, spot{file, p.Offset, p.Line, op.String(), to})
					return
				}
			}
		}
		ast.Inspect(tree, func(n ast.Node) bool {
			switch n := n.(type) {
			case *ast.BinaryExpr:
				for _, to := range instead[n.Op] {
					add(n.OpPos, n.Op, to.String())
				}
			case *ast.IncDecStmt:
				add(n.TokPos, n.Tok, instead[n.Tok][0].String())
			case *ast.UnaryExpr:
				if n.Op == token.SUB {
					add(n.OpPos, n.Op, "+")
				}
			}
			return true
		})
	}
	slices.SortFunc(out, func(a, b spot) int { return strings.Compare(a.file, b.file)*1e9 + a.at - b.at })
	return out, took, nil
}

// byChance breaks n operators of each package, drawn by chance among those that its tests run through, and prints the share
// that they notice.
func byChance(dir string, packages []string, n int, seed uint64) error {
	for _, pkg := range packages {
		spots, took, err := spotsOf(dir, pkg)
		if err != nil {
			return err
		}
		all := len(spots)
		rand.New(rand.NewPCG(seed, 0)).Shuffle(all, func(i, j int) { spots[i], spots[j] = spots[j], spots[i] })
		tried, seen := 0, 0
		for _, s := range spots {
			if tried == n {
				break
			}
			path := filepath.Join(dir, s.file)
			before, err := os.ReadFile(path)
			if err != nil {
				return err
			}
			broken := string(before[:s.at]) + s.new + string(before[s.at+len(s.old):])
			if err := os.WriteFile(path, []byte(broken), 0o600); err != nil {
				return err
			}
			start := time.Now()
			build := exec.Command("go", "vet", "./"+pkg)
			build.Dir = dir
			fits := build.Run() == nil
			said, noticed := "", false
			if fits {
				said, noticed = run(dir, []string{"./" + pkg}, max(30*time.Second, 5*took)) // one that makes a loop endless is noticed by that
			}
			if err := os.WriteFile(path, before, 0o600); err != nil {
				return err
			}
			if !fits {
				continue
			}
			tried++
			if noticed {
				seen++
				continue
			}
			fmt.Printf("%s:%d %s for %s: NOT NOTICED%s (%.0f s)\n", s.file, s.line, s.new, s.old, said, time.Since(start).Seconds())
		}
		fmt.Printf("%-16s %d of %d noticed (%.0f %%), of %d operators that the tests run through\n", pkg, seen, tried, 100*float64(seen)/float64(max(tried, 1)), all)
	}
	return nil
}
