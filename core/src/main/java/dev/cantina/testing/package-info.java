/**
 * Unit tests of routines: case files, the runner, expectations and differences.
 *
 * <p>In: YAML case files and a workspace. Out: a {@link dev.cantina.testing.CaseResult} for each
 * case. Nothing above {@code debugging} is imported.
 */
package dev.cantina.testing;
