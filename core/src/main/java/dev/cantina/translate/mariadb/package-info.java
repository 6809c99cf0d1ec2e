/** Routines in the language of MariaDB's stored programs. */
package dev.cantina.translate.mariadb;
