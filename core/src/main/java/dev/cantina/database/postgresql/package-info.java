/** PostgreSQL over its driver. */
package dev.cantina.database.postgresql;
