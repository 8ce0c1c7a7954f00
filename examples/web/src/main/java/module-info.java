/** A complete web application on the demo's data. */
module dev.vacancy.examples.web {
    requires transitive dev.vacancy.approvals;
    requires transitive dev.vacancy.core;
    requires transitive dev.vacancy.demo;
    requires dev.vacancy.handlers;
    requires dev.vacancy.picture;
    requires dev.vacancy.web;
    requires dev.vacancy.yaml;
    requires transitive java.sql;
    requires jakarta.servlet;
    requires org.apache.commons.text;
    requires org.eclipse.jetty.ee10.servlet;
    requires org.eclipse.jetty.server;
    requires org.eclipse.jetty.util;
    requires org.slf4j;

    exports dev.vacancy.examples.web;

    provides dev.vacancy.demo.DemoPages.Provider with
            dev.vacancy.examples.web.LarkmoorPages;
}
