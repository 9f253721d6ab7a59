package store

// MigrateTo makes the schema as it was at an older version.
var MigrateTo = migrateTo
