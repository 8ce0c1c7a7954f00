/** Deletion over HTTP for any Jakarta Servlet container. */
module dev.vacancy.web {
    requires transitive dev.vacancy.approvals;
    requires transitive dev.vacancy.core;
    requires transitive jakarta.servlet;
    requires org.slf4j;
    requires tools.jackson.databind;

    exports dev.vacancy.web;
}
