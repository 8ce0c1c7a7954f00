package dev.vacancy.documents.internal;

import java.util.ArrayList;

/** An array as people see it; its text says of each element of which type it is. */
final class ShownArray extends ArrayList<Object> {
    private static final long serialVersionUID = 1L;

    private final transient ExactValue value;

    ShownArray(ExactValue value) {
        this.value = value;
    }

    @Override
    public String toString() {
        return value.typed();
    }
}
