package dev.vacancy.internal.engine;

import dev.vacancy.followup.FollowUpHandler;
import dev.vacancy.followup.FollowUpMessage;
import dev.vacancy.internal.follow.FollowUpHandlers;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * A handler with somebody around each message.
 *
 * @param handler handles it
 * @param observer looks on
 */
record ObservedHandler(FollowUpHandler handler, WorkObserver observer) implements FollowUpHandler {
    static FollowUpHandlers all(FollowUpHandlers handlers, WorkObserver observer) {
        Map<String, FollowUpHandler> observed = new LinkedHashMap<>();
        handlers.byName().forEach((name, handler) -> observed.put(name, new ObservedHandler(handler, observer)));
        return new FollowUpHandlers(observed);
    }

    @Override
    public void handle(FollowUpMessage message) throws Exception {
        try {
            observer.around("follow.up", message.table(), () -> {
                try {
                    handler.handle(message);
                } catch (Exception failure) {
                    throw new Unhandled(failure);
                }
                return message;
            });
        } catch (Unhandled unhandled) {
            throw unhandled.why;
        }
    }

    @Override
    public Optional<String> hinders(String table, Optional<String> key, Map<String, Object> values) {
        return handler.hinders(table, key, values);
    }

    /** What the handler threw, on its way past whoever looks on. */
    private static final class Unhandled extends RuntimeException {
        private static final long serialVersionUID = 1L;

        private final transient Exception why;

        Unhandled(Exception why) {
            super(why);
            this.why = why;
        }
    }
}
