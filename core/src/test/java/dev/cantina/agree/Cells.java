package dev.cantina.agree;

import java.util.List;

/** Small pieces of a program, each of which reports what it comes to. */
interface Cells {
    /**
     * A piece.
     *
     * @param number what its lines begin with
     */
    record Cell(int number, String text) {}

    /** The tables that they are about. */
    String tables();

    /** What is in these. */
    String rows();

    List<Cell> cells();

    /** A program with a procedure {@code p} that some of them are in. */
    String program(List<Cell> some);
}
