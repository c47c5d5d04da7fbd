package store

import (
	"errors"

	"github.com/jackc/pgx/v5/pgconn"
)

// IsBadText reports whether an error is about a character that PostgreSQL cannot keep: NUL, in a text or in JSON.
func IsBadText(err error) bool {
	var e *pgconn.PgError
	return errors.As(err, &e) && (e.Code == "22021" || e.Code == "22P05")
}
