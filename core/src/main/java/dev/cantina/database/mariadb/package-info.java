/** MariaDB over its driver. */
package dev.cantina.database.mariadb;
