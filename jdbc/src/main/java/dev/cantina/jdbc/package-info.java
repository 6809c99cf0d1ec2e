/**
 * A JDBC driver for a project: {@code jdbc:cantina:FOLDER}. In comes what a program asks; calls of
 * the project's routines are run here, everything else goes to the database, and what it sets off
 * comes back here. It shows no part of Cantina to the program but what {@code java.sql} has.
 */
package dev.cantina.jdbc;
