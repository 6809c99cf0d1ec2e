/**
 * Takes routines to servers: translation into each server's language, the plan of what to change,
 * the ledger of what was shipped, and the proof that both ways agree. In comes a {@code Workspace};
 * out go texts of SQL, plans and differences. No import of a face, and none of the test runner's
 * output.
 */
package dev.cantina.deploy;
