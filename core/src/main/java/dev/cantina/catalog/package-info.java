/**
 * What exists: tables with their columns and keys, routines and triggers, and how a call finds the
 * routine that it means.
 *
 * <p>In: trees from {@code syntax} and tables that a database described. Out: a {@link
 * dev.cantina.catalog.Catalog}, which never changes. Nothing above {@code types} is imported.
 */
package dev.cantina.catalog;
