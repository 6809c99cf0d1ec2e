/** The programs of the servers that Cantina can start itself, ready to be unpacked. */
package dev.cantina.servers;
