// Package nearest names what somebody who misspelt a name meant, perhaps.
package nearest

import "fmt"

// Unknown is the error for a name that is not one of those known, with the one most like it.
func Unknown(name string, known []string) error {
	best, least := "", len(name)/2+1
	for _, k := range known {
		if d := edits(name, k); d < least {
			best, least = k, d
		}
	}
	if best != "" {
		return fmt.Errorf("there is no %.60q here; %q is meant, perhaps", name, best)
	}
	return fmt.Errorf("there is no %.60q here", name)
}

// edits gives how many letters must be put in, left out or exchanged to make b of a (Levenshtein's distance).
func edits(a, b string) int {
	if len(a) > 60 {
		return len(a)
	}
	row := make([]int, len(b)+1)
	for j := range row {
		row[j] = j
	}
	for i := range len(a) {
		before := row[0]
		row[0] = i + 1
		for j := range len(b) {
			swap := before
			if a[i] != b[j] {
				swap++
			}
			before = row[j+1]
			row[j+1] = min(swap, row[j+1]+1, row[j]+1)
		}
	}
	return row[len(b)]
}
