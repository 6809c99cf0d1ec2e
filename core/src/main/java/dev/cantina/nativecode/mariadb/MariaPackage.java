package dev.cantina.nativecode.mariadb;

import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.NativeVariable;
import dev.cantina.nativecode.mariadb.MariaLexer.Token;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/**
 * A CREATE PACKAGE, or the body of one: the routines in it, and the variables that they share
 * (MariaDB, CREATE PACKAGE BODY, in the usual {@code sql_mode}).
 *
 * @param name without its database
 * @param routines of a body, each with the tokens of its own
 * @param promised what the head says that others may call, in lower case; of a body none
 */
record MariaPackage(
        MariaScript.Statement statement,
        String name,
        Span nameSpan,
        boolean body,
        List<Member> routines,
        Set<String> promised,
        List<NativeVariable> variables,
        String modes) {
    /** A parameter as it is written. */
    record Parameter(String mode, String name, String type) {}

    /**
     * A routine of a package.
     *
     * @param returns the type that a function gives
     */
    record Member(MariaRoutine routine, List<Parameter> parameters, Optional<String> returns) {}

    /** Whether its text is read otherwise than usual. */
    boolean speaksOtherwise() {
        return MariaRoutine.speaksOtherwise(modes);
    }

    /**
     * Reads what a statement creates; empty where that is no package.
     *
     * @param modes the session's {@code sql_mode}
     * @throws NativeSyntaxException where it can't be read
     */
    static Optional<MariaPackage> of(MariaScript.Statement statement, String modes)
            throws NativeSyntaxException {
        int at = statement.stored();
        if (at < 0 || !statement.tokens().get(at).is("package")) {
            return Optional.empty();
        }
        return Optional.of(new Reader(statement, modes).read(at + 1));
    }

    private static final class Reader {
        private final MariaScript.Statement statement;
        private final List<Token> tokens;
        private final Source source;
        private final String modes;
        private int at;

        Reader(MariaScript.Statement statement, String modes) {
            this.statement = statement;
            this.tokens = statement.tokens();
            this.source = statement.span().source();
            this.modes = modes;
        }

        MariaPackage read(int from) throws NativeSyntaxException {
            at = from;
            boolean body = sees("body");
            at += body ? 1 : 0;
            if (sees("if")) {
                at += 3;
            }
            if (at + 2 < tokens.size() && tokens.get(at + 1).is(".")) {
                at += 2;
            }
            Token named = take();
            String name = MariaRoutine.text(named, source.written());
            List<Member> routines = new ArrayList<>();
            Set<String> promised = new java.util.LinkedHashSet<>();
            List<NativeVariable> variables = new ArrayList<>();
            boolean otherwise = MariaRoutine.speaksOtherwise(modes);
            while (!otherwise && at < tokens.size() - 1) {
                if (sees("procedure") || sees("function")) {
                    Optional<Member> member = member(name, promised);
                    member.filter(m -> body).ifPresent(routines::add);
                } else if (sees("declare")) {
                    variables.addAll(declaration());
                } else if (routines.isEmpty() && promised.isEmpty()) {
                    // What is said of the whole.
                    at++;
                } else {
                    // What is done when it is used first.
                    noMoreRoutines();
                    break;
                }
            }
            return new MariaPackage(
                    statement,
                    name,
                    source.span(named.start(), named.end()),
                    body,
                    routines,
                    body ? Set.of() : promised,
                    variables,
                    modes);
        }

        /** Whatever stands before a routine that is not taken for one must not hide it. */
        private void noMoreRoutines() throws NativeSyntaxException {
            for (int i = at; i + 2 < tokens.size(); i++) {
                boolean routine = tokens.get(i).is("procedure") || tokens.get(i).is("function");
                if (routine && tokens.get(i + 1).isName() && tokens.get(i + 2).is("(")) {
                    throw new NativeSyntaxException(
                            source.span(tokens.get(at).start(), tokens.get(at).end()),
                            tokens.get(at).text()
                                    + " stands where a routine of the package should");
                }
            }
        }

        private boolean sees(String word) {
            return at < tokens.size() && tokens.get(at).is(word);
        }

        private Token take() throws NativeSyntaxException {
            if (at >= tokens.size()) {
                Token last = tokens.get(tokens.size() - 1);
                throw new NativeSyntaxException(
                        source.span(last.start(), last.end()), "the package ends too soon");
            }
            return tokens.get(at++);
        }

        private String written(int from, int to) {
            return source.written().substring(tokens.get(from).start(), tokens.get(to - 1).end());
        }

        /** To the next of some words or signs outside of brackets. */
        private void until(Set<String> stops) throws NativeSyntaxException {
            int depth = 0;
            while (depth > 0 || at >= tokens.size() || stops.stream().noneMatch(this::sees)) {
                Token token = take();
                depth += token.is("(") ? 1 : token.is(")") ? -1 : 0;
            }
        }

        private List<NativeVariable> declaration() throws NativeSyntaxException {
            take();
            List<Token> names = new ArrayList<>(List.of(take()));
            while (sees(",")) {
                at++;
                names.add(take());
            }
            int type = at;
            until(Set.of("default", ":=", ";"));
            String written = written(type, Math.max(at, type + 1));
            until(Set.of(";"));
            at++;
            List<NativeVariable> declared = new ArrayList<>();
            for (Token name : names) {
                declared.add(
                        new NativeVariable(
                                source.written().substring(name.start(), name.end()),
                                written,
                                NativeVariable.Kind.LOCAL,
                                source.span(name.start(), name.end())));
            }
            return declared;
        }

        /** A routine; empty where it is only announced. */
        private Optional<Member> member(String of, Set<String> promised)
                throws NativeSyntaxException {
            int from = at;
            String what = take().text();
            Token name = take();
            List<Parameter> parameters = parameters();
            Optional<String> returns = Optional.empty();
            int body = MariaRoutine.routineBody(tokens, from + 2);
            if (sees("returns")) {
                int type = ++at;
                int last = body < 0 ? at + 1 : body;
                while (at < last && !MariaRoutine.CHARACTERISTICS.contains(tokens.get(at).text())) {
                    at++;
                }
                returns = Optional.of(written(type, at));
            }
            String called = MariaRoutine.text(name, source.written());
            at = body < 0 ? tokens.size() : body;
            if (sees(";")) {
                at++;
                promised.add(called.toLowerCase(Locale.ROOT));
                return Optional.empty();
            }
            int end = MariaParser.end(source, tokens, at);
            at = end;
            // The semicolon behind it is the package's.
            int last = tokens.get(end - 1).is(";") ? end - 1 : end;
            List<Token> own = tokens.subList(from, last);
            MariaScript.Statement whole =
                    new MariaScript.Statement(
                            source.span(own.get(0).start(), own.get(own.size() - 1).end()), own);
            return Optional.of(
                    new Member(
                            new MariaRoutine(
                                    whole,
                                    whole.span(),
                                    what,
                                    of + "." + called,
                                    source.span(name.start(), name.end()),
                                    Optional.empty(),
                                    body - from,
                                    modes),
                            parameters,
                            returns));
        }

        private List<Parameter> parameters() throws NativeSyntaxException {
            List<Parameter> parameters = new ArrayList<>();
            take();
            while (!sees(")")) {
                String mode = "IN";
                boolean said = sees("in") || sees("out") || sees("inout");
                if (said) {
                    mode = take().text().toUpperCase(Locale.ROOT);
                }
                Token name = take();
                int type = at;
                until(Set.of(",", ")"));
                parameters.add(
                        new Parameter(
                                mode,
                                MariaRoutine.text(name, source.written()),
                                written(type, Math.max(at, type + 1))));
                if (sees(",")) {
                    at++;
                }
            }
            take();
            return parameters;
        }
    }
}
