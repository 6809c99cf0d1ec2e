/** Runs the cases of a project on the JUnit Platform, beside a team's own tests. */
package dev.cantina.junit;
