package dev.cantina.bench;

import java.util.Locale;

/**
 * The experiment that chose the form of the executable code: the same loop as a tree of typed
 * nodes, as the class that the compiler would write (variables in fields, a statement counter, the
 * place kept for the call stack, checked arithmetic), and as plain Java. Prints the best of several
 * runs of each, in milliseconds, and the ratio to plain Java.
 *
 * <p>{@code bench/forms} runs it.
 */
public final class CodeForms {
    private static final int TURNS = 3_000_000;

    private CodeForms() {}

    public static void main(String[] args) {
        double plain = best(() -> plain(TURNS));
        double fields = best(() -> new Written().run(TURNS));
        double nodes = best(() -> Nodes.run(TURNS));
        System.out.printf(Locale.ROOT, "%-34s %8s %8s%n", "form", "ms", "ratio");
        row("plain Java", plain, plain);
        row("a class written for the routine", fields, plain);
        row("a tree of typed nodes", nodes, plain);
    }

    private static void row(String name, double ms, double plain) {
        System.out.printf(Locale.ROOT, "%-34s %8.1f %8.1f%n", name, ms, ms / plain);
    }

    private interface Work {
        long run();
    }

    private static double best(Work work) {
        double best = Double.MAX_VALUE;
        long sum = 0;
        for (int i = 0; i < 15; i++) {
            long start = System.nanoTime();
            sum += work.run();
            best = Math.min(best, (System.nanoTime() - start) / 1e6);
        }
        if (sum == 42) {
            System.out.println();
        }
        return best;
    }

    private static long plain(int turns) {
        int i = 0;
        int even = 0;
        long total = 0;
        while (i < turns) {
            if (i % 2 == 0) {
                even = even + 1;
            } else {
                total = total + i;
            }
            i = i + 1;
        }
        return total + even;
    }

    /** What the session keeps for a run. */
    static final class Meter {
        long statements;
        long next = 4096;

        void poll() {
            next = statements + 4096;
            if (Thread.interrupted()) {
                throw new IllegalStateException();
            }
        }
    }

    /** The shape of the class that the compiler writes. */
    static final class Written {
        final Meter meter = new Meter();
        int at;
        long v0;
        long v1;
        long v2;
        long v3;
        boolean n0;
        boolean n1;
        boolean n2;
        boolean n3;

        static long integer(long value) {
            if ((int) value != value) {
                throw new ArithmeticException();
            }
            return value;
        }

        long run(int turns) {
            v3 = turns;
            at = 0;
            while (true) {
                at = 1;
                meter.statements++;
                if (n0 || n3 || v0 >= v3) {
                    break;
                }
                at = 2;
                meter.statements++;
                even:
                {
                    if (!n0 && Math.floorMod(v0, 2L) == 0) {
                        at = 3;
                        meter.statements++;
                        if (n1) {
                            v1 = 0;
                            n1 = true;
                        } else {
                            v1 = integer(Math.addExact(v1, 1L));
                            n1 = false;
                        }
                        break even;
                    }
                    at = 4;
                    meter.statements++;
                    if (n2 || n0) {
                        n2 = true;
                    } else {
                        v2 = Math.addExact(v2, v0);
                        n2 = false;
                    }
                }
                at = 5;
                meter.statements++;
                if (n0) {
                    n0 = true;
                } else {
                    v0 = integer(Math.addExact(v0, 1L));
                    n0 = false;
                }
                if (meter.statements >= meter.next) {
                    meter.poll();
                }
            }
            return v2 + v1;
        }
    }

    /** The same loop as a tree. */
    static final class Nodes {
        interface Whole {
            long value(long[] frame, boolean[] nulls);
        }

        interface Step {
            void run(long[] frame, boolean[] nulls);
        }

        static Whole variable(int slot) {
            return (frame, nulls) -> frame[slot];
        }

        static Whole constant(long value) {
            return (frame, nulls) -> value;
        }

        static Whole plus(Whole left, Whole right) {
            return (f, n) -> Math.addExact(left.value(f, n), right.value(f, n));
        }

        static Whole mod(Whole left, Whole right) {
            return (f, n) -> left.value(f, n) % right.value(f, n);
        }

        static Step set(Meter meter, int slot, Whole value) {
            return (f, n) -> {
                meter.statements++;
                f[slot] = value.value(f, n);
                n[slot] = false;
            };
        }

        static Step choice(Meter meter, Whole left, Whole right, Step then, Step otherwise) {
            return (f, n) -> {
                meter.statements++;
                if (left.value(f, n) == right.value(f, n)) {
                    then.run(f, n);
                } else {
                    otherwise.run(f, n);
                }
            };
        }

        static Step loop(Meter meter, Whole left, Whole right, Step... body) {
            return (f, n) -> {
                while (left.value(f, n) < right.value(f, n)) {
                    meter.statements++;
                    for (Step step : body) {
                        step.run(f, n);
                    }
                }
            };
        }

        static long run(int turns) {
            Meter meter = new Meter();
            long[] frame = {0, 0, 0, turns};
            Step routine =
                    loop(
                            meter,
                            variable(0),
                            variable(3),
                            choice(
                                    meter,
                                    mod(variable(0), constant(2)),
                                    constant(0),
                                    set(meter, 1, plus(variable(1), constant(1))),
                                    set(meter, 2, plus(variable(2), variable(0)))),
                            set(meter, 0, plus(variable(0), constant(1))));
            routine.run(frame, new boolean[4]);
            return frame[2] + frame[1];
        }
    }
}
