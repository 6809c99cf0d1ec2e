/** Scripts and stored routines of MariaDB. */
package dev.cantina.nativecode.mariadb;
