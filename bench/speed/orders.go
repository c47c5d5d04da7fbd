package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"strings"
	"time"
)

// orders measures an order of 12 pictures of 12 MP in 6 colourways: how busy it keeps the cores, and the time a file
// against a single recolour command of the same picture.
func orders(bin, dir, photo string, call caller, job string, pid int) {
	data, err := os.ReadFile(photo)
	check(err)
	put := func(method, path string, v any) map[string]any {
		b, err := json.Marshal(v)
		check(err)
		return call(method, path, "application/json", bytes.NewReader(b))
	}
	stroke := map[string]any{"radius": 420, "points": [][2]float64{{1800, 1500}, {2200, 1600}, {2000, 2100}}}
	var pictures []string
	for n := range 12 {
		p := call("POST", fmt.Sprintf("/api/jobs/%s/pictures?name=picture-%d.jpg", job, n), "application/octet-stream", bytes.NewReader(data))
		id := p["id"].(string)
		pictures = append(pictures, id)
		put("PUT", "/api/pictures/"+id+"/document", map[string]any{"base": 1, "label": "a part", "document": map[string]any{"parts": []any{map[string]any{"id": "a", "name": "Body",
			"picks": []any{map[string]any{"kind": "brush", "join": "add", "strokes": []any{stroke}}}, "target": map[string]any{}, "settings": map[string]any{"shade_depth": 0, "highlights": 100, "strength": 100}}}}})
	}
	var ways []any
	var ids []string
	for n, css := range []string{"#1d6a72", "#d9a441", "#f1ead8", "#20242b", "#9c2a1e", "#345a86"} {
		ids = append(ids, fmt.Sprint(n))
		ways = append(ways, map[string]any{"id": fmt.Sprint(n), "name": css[1:], "cells": map[string]any{"Body": map[string]any{"target": map[string]any{"css": css}}}})
	}
	put("PUT", "/api/jobs/"+job+"/content", map[string]any{"base": 1, "label": "colourways", "palette": []any{}, "colourways": ways})

	// One file by the command, of the same mask.
	mask := filepath.Join(dir, "order-mask.png")
	res, err := http.Get(url + "/api/pictures/" + pictures[0] + "/parts/a/mask")
	check(err)
	f, err := os.Create(mask)
	check(err)
	_, err = f.ReadFrom(res.Body)
	check(err)
	check(f.Close())
	single := func() float64 {
		return timed(exec.Command(bin, "recolour", "--photo", photo, "--mask", mask, "--target", "#1d6a72", "--out", filepath.Join(dir, "one.png"))).Seconds()
	}
	single()
	one := (single() + single()) / 2

	used := cpu(pid)
	start := time.Now()
	put("POST", "/api/jobs/"+job+"/deliveries", map[string]any{"pictures": pictures, "colourways": ids, "format": "png"})
	for {
		res, err := http.Get(url + "/api/jobs/" + job + "/deliveries")
		check(err)
		var list []struct{ State string }
		check(json.NewDecoder(res.Body).Decode(&list))
		res.Body.Close()
		n := 0
		for _, d := range list {
			if d.State == "done" {
				n++
			}
			if d.State == "failed" {
				panic("a file failed")
			}
		}
		if n == 72 {
			break
		}
		time.Sleep(200 * time.Millisecond)
	}
	wall := time.Since(start).Seconds()
	fmt.Printf("72 files of 12 MP: cores busy with the server's own work %.0f %%; seconds a file over one recolour command alone: %.2f\n", 100*(cpu(pid)-used)/wall/float64(runtime.NumCPU()), wall/72/one)
}

// cpu is the processor time of a process so far, in seconds.
func cpu(pid int) float64 {
	b, err := os.ReadFile(fmt.Sprintf("/proc/%d/stat", pid))
	check(err)
	f := strings.Fields(string(b)[strings.LastIndex(string(b), ")")+2:])
	var user, sys float64
	_, err = fmt.Sscan(f[11]+" "+f[12], &user, &sys)
	check(err)
	return (user + sys) / 100
}
