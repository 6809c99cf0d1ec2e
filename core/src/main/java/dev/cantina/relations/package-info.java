/** Who calls what, who touches which tables and columns, and what a change of them would touch. */
package dev.cantina.relations;
