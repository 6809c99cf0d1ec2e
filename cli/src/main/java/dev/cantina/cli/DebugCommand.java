package dev.cantina.cli;

final class DebugCommand implements Command {
    public String name() {
        return "debug";
    }

    public String arguments() {
        return "";
    }

    public String summary() {
        return "";
    }

    public String example() {
        return "";
    }

    public int run(Invocation call) {
        return 0;
    }
}
