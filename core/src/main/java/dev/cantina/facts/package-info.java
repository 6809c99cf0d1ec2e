/**
 * What is sure of a bound statement: yes, no, or unknown. Translation, runtime and advice ask here
 * and nowhere else, and take the safe way where something is unknown.
 *
 * <p>In: bound statements and a catalog. Out: {@link dev.cantina.facts.Answer}. Imports {@code
 * binding} and what is below it.
 */
package dev.cantina.facts;
