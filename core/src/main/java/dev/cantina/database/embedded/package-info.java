/** The embedded database, which Cantina registers itself with as trigger and as function. */
package dev.cantina.database.embedded;
