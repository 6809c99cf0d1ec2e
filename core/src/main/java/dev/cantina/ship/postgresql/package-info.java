/** Shipping to PostgreSQL. */
package dev.cantina.ship.postgresql;
