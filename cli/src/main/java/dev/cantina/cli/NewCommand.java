package dev.cantina.cli;

final class NewCommand implements Command {
    public String name() {
        return "new";
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
