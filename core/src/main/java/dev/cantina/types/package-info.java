/**
 * SQL types and what can be done with their values: casts, stores, arithmetic, comparison,
 * three-valued logic.
 *
 * <p>In: values as plain Java objects (see {@link dev.cantina.types.SqlType#carrier()}). Out: the
 * same, or a {@link dev.cantina.types.ConditionException}. Nothing above {@code syntax} is
 * imported.
 */
package dev.cantina.types;
