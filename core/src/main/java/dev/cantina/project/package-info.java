/**
 * A project on disk: {@code cantina.yaml}, the folders, the fixtures, and the workspace that they
 * make together.
 *
 * <p>In: a folder. Out: a {@link dev.cantina.project.Workspace}, or a {@link
 * dev.cantina.project.ProjectException} with the place of what is wrong. Nothing above {@code
 * database} is imported.
 */
package dev.cantina.project;
