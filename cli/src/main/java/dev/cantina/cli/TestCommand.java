package dev.cantina.cli;

final class TestCommand implements Command {
    public String name() {
        return "test";
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
