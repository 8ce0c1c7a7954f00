/** Handlers of what follows runs outside of the database. */
module dev.vacancy.handlers {
    requires transitive dev.vacancy.core;
    requires transitive org.jspecify;
    requires java.net.http;
    requires tools.jackson.databind;

    exports dev.vacancy.handlers;
}
