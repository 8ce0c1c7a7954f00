package dev.vacancy.web;

import java.util.Map;
import tools.jackson.databind.cfg.PackageVersion;
import tools.jackson.databind.json.JsonMapper;

/** Sees to it that the JSON binder has what it needs, before a request does. */
final class Binder {
    private Binder() {}

    /** A value that any binder can write. */
    record Sample(String text) {}

    /**
     * Makes one and tries it, before any other class of this package does: a class that can't be initialized only says so once.
     *
     * @throws IllegalStateException when a framework has pinned annotations that are older than the binder
     */
    static void require() {
        try {
            JsonMapper.builder().build().convertValue(new Sample("hive"), Map.class);
        } catch (LinkageError older) {
            throw new IllegalStateException(
                    "jackson-databind " + PackageVersion.VERSION
                            + " doesn't work with the jackson-annotations that are on the class path,"
                            + " which something else seems to have pinned to an older version: " + older.getMessage()
                            + ". Let it be the version that jackson-databind asks for.",
                    older);
        }
    }
}
