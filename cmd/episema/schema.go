package main

import (
	_ "embed"
	"io"
)

//go:embed schema-picks.json
var picksSchema string

//go:embed schema-report.json
var reportSchema string

//go:embed schema-families.json
var familiesSchema string

//go:embed schema-job.json
var jobSchema string

func schemaCommand(args []string, out io.Writer) error {
	if len(args) != 1 {
		return usagef("name one schema: picks, report, families or job")
	}
	text, ok := map[string]string{"picks": picksSchema, "report": reportSchema, "families": familiesSchema, "job": jobSchema}[args[0]]
	if !ok {
		return usagef("there is no schema %q; picks, report, families and job are", args[0])
	}
	_, err := io.WriteString(out, text)
	return err
}
