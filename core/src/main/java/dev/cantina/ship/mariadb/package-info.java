/** Shipping to MariaDB. */
package dev.cantina.ship.mariadb;
