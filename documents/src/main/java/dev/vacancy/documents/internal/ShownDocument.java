package dev.vacancy.documents.internal;

import java.util.LinkedHashMap;

/** An embedded document as people see it; its text says of each value of which type it is. */
final class ShownDocument extends LinkedHashMap<String, Object> {
    private static final long serialVersionUID = 1L;

    private final transient ExactValue value;

    ShownDocument(ExactValue value) {
        this.value = value;
    }

    @Override
    public String toString() {
        return value.typed();
    }
}
