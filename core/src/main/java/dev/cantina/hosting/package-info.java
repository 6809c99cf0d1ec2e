/**
 * Private servers: a PostgreSQL or MariaDB of the user's own on loopback, started when a project
 * wants it, ended when it has been idle. All that is in one is scratch.
 */
package dev.cantina.hosting;
