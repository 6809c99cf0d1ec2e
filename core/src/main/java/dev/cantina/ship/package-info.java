/**
 * What is to be changed on a server so that it has what the project has: the plan, the ledger of
 * what was shipped, and the doing of it, all or nothing.
 */
package dev.cantina.ship;
