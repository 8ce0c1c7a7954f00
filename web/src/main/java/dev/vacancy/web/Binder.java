package dev.vacancy.web;

import tools.jackson.databind.json.JsonMapper;

/** Sees to it that the JSON binder has what it needs, before a request does. */
final class Binder {
    private Binder() {}

    /** A value that any binder can write. */
    record Sample(String text) {}

    /**
     * Tries it once.
     *
     * @throws IllegalStateException when a framework has pinned annotations that are older than the binder
     */
    static void require(JsonMapper json) {
        try {
            json.convertValue(new Sample("hive"), Exchange.OBJECT);
        } catch (LinkageError older) {
            throw new IllegalStateException(
                    "jackson-databind " + json.version()
                            + " doesn't work with the jackson-annotations that are on the class path,"
                            + " which something else seems to have pinned to an older version: " + older.getMessage()
                            + ". Let it be the version that jackson-databind asks for.",
                    older);
        }
    }
}
