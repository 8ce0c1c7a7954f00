/** Deletions in Spring's transactions, with Spring's exceptions, problem details and signed-in users. */
@SuppressWarnings("requires-automatic") // Spring publishes names, not descriptors
module dev.vacancy.spring {
    requires transitive dev.vacancy.core;
    requires transitive org.jspecify;
    requires static dev.vacancy.web;
    requires org.slf4j;
    requires spring.context;
    requires transitive spring.core;
    requires spring.jdbc;
    requires transitive spring.tx;
    requires static transitive spring.web;
    requires static transitive jakarta.persistence;
    requires static spring.orm;
    requires static spring.security.core;

    exports dev.vacancy.spring;

    // Spring calls what handles exceptions.
    opens dev.vacancy.spring to
            spring.core,
            spring.beans,
            spring.context,
            spring.web;
}
