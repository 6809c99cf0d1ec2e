package dev.cantina.binding;

/** A block or loop that can be left; each is itself and equal to no other. */
public final class JumpTarget {
    private final String label;
    private final boolean loop;

    public JumpTarget(String label, boolean loop) {
        this.label = label;
        this.loop = loop;
    }

    public String label() {
        return label;
    }

    public boolean isLoop() {
        return loop;
    }
}
