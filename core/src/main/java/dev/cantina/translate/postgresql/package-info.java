/** Routines in PL/pgSQL. */
package dev.cantina.translate.postgresql;
