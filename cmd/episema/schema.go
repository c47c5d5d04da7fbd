package main

import (
	_ "embed"
	"io"
)

//go:embed schema-picks.json
var picksSchema string

//go:embed schema-report.json
var reportSchema string

func schemaCommand(args []string, out io.Writer) error {
	if len(args) != 1 {
		return usagef("name one schema: picks or report")
	}
	text, ok := map[string]string{"picks": picksSchema, "report": reportSchema}[args[0]]
	if !ok {
		return usagef("there is no schema %q; picks and report are", args[0])
	}
	_, err := io.WriteString(out, text)
	return err
}
