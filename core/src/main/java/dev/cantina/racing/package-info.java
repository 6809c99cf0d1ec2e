/**
 * Calls that are made at the same time, each on a connection of its own: stepped statement by
 * statement through the orders in which they can come, and compared with what they come to one
 * after the other.
 */
package dev.cantina.racing;
