package main

import (
	_ "embed"
	"io"
)

//go:embed schema-picks.json
var picksSchema string

//go:embed schema-report.json
var reportSchema string

//go:embed schema-job.json
var jobSchema string

func schemaCommand(args []string, out io.Writer) error {
	if len(args) != 1 {
		return usagef("name one schema: picks, report or job")
	}
	text, ok := map[string]string{"picks": picksSchema, "report": reportSchema, "job": jobSchema}[args[0]]
	if !ok {
		return usagef("there is no schema %q; picks, report and job are", args[0])
	}
	_, err := io.WriteString(out, text)
	return err
}
