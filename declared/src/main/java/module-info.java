/** Deletions that an application declares as methods of an interface. */
module dev.vacancy.declared {
    requires transitive dev.vacancy.core;
    requires transitive org.jspecify;
    requires java.sql;

    exports dev.vacancy.declared;
}
