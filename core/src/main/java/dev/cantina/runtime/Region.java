package dev.cantina.runtime;

import dev.cantina.check.BoundStatement;
import dev.cantina.syntax.Declaration.HandlerAction;
import java.util.ArrayList;
import java.util.List;

/**
 * What stands around a statement while it is compiled: blocks with handlers and ATOMIC blocks, the
 * innermost first.
 *
 * @param block whose handlers guard; null for the ATOMIC node
 * @param mark the number of the ATOMIC block's mark, or -1
 */
record Region(Region outer, BoundStatement.Block block, int mark) {
    /** The handlers that a condition raised here can find, with what each exit undoes. */
    HandlerTable table() {
        List<List<HandlerTable.Entry>> blocks = new ArrayList<>();
        int undo = -1;
        for (Region r = this; r != null; r = r.outer) {
            if (r.block == null) {
                undo = r.mark;
                continue;
            }
            List<HandlerTable.Entry> entries = new ArrayList<>();
            for (BoundStatement.Handler handler : r.block.handlers()) {
                boolean whole = handler.action() == HandlerAction.UNDO && r.outer != null;
                int reach =
                        handler.action() == HandlerAction.CONTINUE
                                ? -1
                                : whole ? r.outer.mark : undo;
                entries.add(
                        new HandlerTable.Entry(
                                handler.number(), handler.action(), handler.conditions(), reach));
            }
            blocks.add(entries);
        }
        return new HandlerTable(blocks);
    }

    /** The node of the block that declares a handler. */
    Region declaring(int handlerNumber) {
        for (Region r = this; r != null; r = r.outer) {
            if (r.block != null
                    && r.block.handlers().stream().anyMatch(h -> h.number() == handlerNumber)) {
                return r;
            }
        }
        throw new IllegalStateException();
    }

    boolean hasHandlers() {
        for (Region r = this; r != null; r = r.outer) {
            if (r.block != null) {
                return true;
            }
        }
        return false;
    }
}
