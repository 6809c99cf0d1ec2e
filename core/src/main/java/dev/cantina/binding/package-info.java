/**
 * The binder: trees in, bound trees out, with every name and type resolved, and a problem for each
 * thing that is wrong.
 *
 * <p>In: trees and a catalog. Out: {@link dev.cantina.binding.BoundRoutine} and problems. Nothing
 * above {@code catalog} is imported; a database is asked only through {@link
 * dev.cantina.catalog.Describer}.
 */
package dev.cantina.binding;
