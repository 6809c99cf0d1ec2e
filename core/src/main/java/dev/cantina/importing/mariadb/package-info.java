/** What an import reads of MariaDB, and how it writes that down. */
package dev.cantina.importing.mariadb;
