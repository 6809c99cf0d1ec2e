package dev.cantina.runtime;

import dev.cantina.binding.BoundStatement;
import dev.cantina.syntax.Declaration.HandlerAction;
import java.util.ArrayList;
import java.util.List;

/**
 * What stands around a statement while it is compiled: blocks with handlers, ATOMIC blocks, and the
 * handlers whose bodies hold it, the innermost first.
 *
 * @param block whose handlers guard; null for the other nodes
 * @param mark the number of the ATOMIC block's mark, or -1
 * @param handler the number of the handler whose body it is, or -1
 */
record Region(Region outer, BoundStatement.Block block, int mark, int handler) {
    /** A block with handlers. */
    static Region guarded(Region outer, BoundStatement.Block block) {
        return new Region(outer, block, -1, -1);
    }

    static Region atomic(Region outer, int mark) {
        return new Region(outer, null, mark, -1);
    }

    static Region ofHandler(Region outer, int handler) {
        return new Region(outer, null, -1, handler);
    }

    /** The handlers that a condition raised here can find, with what each exit undoes. */
    HandlerTable table() {
        List<List<HandlerTable.Entry>> blocks = new ArrayList<>();
        HandlerTable.Left left = HandlerTable.Left.NOTHING;
        for (Region r = this; r != null; r = r.outer) {
            if (r.handler >= 0) {
                left = left.byHandler(r.handler);
                continue;
            }
            if (r.block == null) {
                left = HandlerTable.Left.atomic(r.mark);
                continue;
            }
            List<HandlerTable.Entry> entries = new ArrayList<>();
            for (BoundStatement.Handler handler : r.block.handlers()) {
                boolean whole = handler.action() == HandlerAction.UNDO && r.outer != null;
                entries.add(
                        new HandlerTable.Entry(
                                handler.number(),
                                handler.action(),
                                handler.conditions(),
                                whole ? HandlerTable.Left.atomic(r.outer.mark) : left));
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
