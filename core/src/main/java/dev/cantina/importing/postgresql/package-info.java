/** What an import reads of PostgreSQL's catalog, and how it writes that down. */
package dev.cantina.importing.postgresql;
