/** The command-line tool. */
@SuppressWarnings("requires-automatic") // some libraries publish a name at most, not yet a descriptor
module dev.vacancy.cli {
    requires com.h2database;
    requires com.zaxxer.hikari;
    requires dev.vacancy.core;
    requires dev.vacancy.demo;
    requires dev.vacancy.examples.web;
    requires dev.vacancy.picture;
    requires dev.vacancy.schedule;
    requires dev.vacancy.yaml;
    requires info.picocli;
    requires me.tongfei.progressbar;
    requires org.apache.commons.csv;
    requires org.jline.reader;
    requires org.jline.terminal;
    requires tools.jackson.core;
    requires tools.jackson.databind;

    opens dev.vacancy.cli to
            info.picocli;
}
