package dev.cantina.cli;

import dev.cantina.hosting.HostingException;
import dev.cantina.hosting.PrivateServer;
import dev.cantina.project.ProjectException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** {@code server status|stop [KIND]}. */
final class ServerCommand implements Command {
    private static final List<String> KINDS = List.of("postgresql", "mariadb");

    @Override
    public String name() {
        return "server";
    }

    @Override
    public String arguments() {
        return "status|stop [postgresql|mariadb]";
    }

    @Override
    public String summary() {
        return "the private servers of projects in a server's own language: look, or end them";
    }

    @Override
    public String example() {
        return "cantina server status";
    }

    @Override
    public Set<String> common() {
        return Set.of();
    }

    @Override
    public List<String> words() {
        return List.of("status", "stop");
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException {
        List<String> words = call.arguments();
        boolean known =
                !words.isEmpty()
                        && words.size() <= 2
                        && List.of("status", "stop").contains(words.get(0))
                        && (words.size() == 1 || KINDS.contains(words.get(1)));
        if (!known) {
            throw new UsageException(
                    "server takes status or stop, and a kind where only one is meant: cantina server"
                            + " stop postgresql");
        }
        List<String> kinds = words.size() == 2 ? List.of(words.get(1)) : KINDS;
        List<Map<String, Object>> all = new ArrayList<>();
        try {
            for (String kind : kinds) {
                PrivateServer server = PrivateServer.of(kind);
                if (words.get(0).equals("stop")) {
                    boolean ran = server.stop();
                    say(call, kind, ran ? "ended, and its data is gone" : "was not running");
                    all.add(json(kind, Optional.empty(), Optional.empty()));
                    continue;
                }
                Optional<Integer> port = server.running();
                Optional<Duration> age = port.isPresent() ? server.age() : Optional.empty();
                say(
                        call,
                        kind,
                        port.map(
                                        p ->
                                                "runs at 127.0.0.1:"
                                                        + p
                                                        + age.map(ServerCommand::since).orElse(""))
                                .orElse("is not running"));
                all.add(json(kind, port, age));
            }
        } catch (HostingException e) {
            throw new ProjectException(e.getMessage());
        }
        if (call.json()) {
            call.screen().line(Json.text(Map.of("servers", all)));
        }
        return ExitCode.WELL;
    }

    private static void say(Invocation call, String kind, String what) {
        if (!call.json() && !call.quiet()) {
            call.screen().line("  " + String.format("%-11s", kind) + " " + what);
        }
    }

    private static String since(Duration age) {
        return ", for "
                + (age.toMinutes() > 0 ? age.toMinutes() + " min" : age.toSeconds() + " s")
                + "; it ends by itself when nobody has used it for 10 min";
    }

    private static Map<String, Object> json(
            String kind, Optional<Integer> port, Optional<Duration> age) {
        Map<String, Object> one = new LinkedHashMap<>();
        one.put("kind", kind);
        one.put("running", port.isPresent());
        port.ifPresent(p -> one.put("port", p));
        age.ifPresent(a -> one.put("seconds", a.toSeconds()));
        return one;
    }
}
