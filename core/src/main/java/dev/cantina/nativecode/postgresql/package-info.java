/** Scripts and PL/pgSQL of PostgreSQL. */
package dev.cantina.nativecode.postgresql;
