package dev.cantina.cli;

final class DemoCommand implements Command {
    public String name() {
        return "demo";
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
