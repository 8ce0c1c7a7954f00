/** The command-line tool. */
@SuppressWarnings("requires-automatic") // some libraries publish a name at most, not yet a descriptor
module dev.vacancy.cli {
    requires com.h2database;
    requires com.zaxxer.hikari;
    requires dev.vacancy.core;
    requires dev.vacancy.demo;
    requires dev.vacancy.documents;
    requires dev.vacancy.picture;
    requires dev.vacancy.schedule;
    requires dev.vacancy.handlers;
    requires dev.vacancy.types;
    requires dev.vacancy.yaml;
    requires info.picocli;
    requires me.tongfei.progressbar;
    requires org.apache.commons.csv;
    requires org.mongodb.driver.core;
    requires org.jline.reader;
    requires org.jline.terminal;
    requires tools.jackson.core;
    requires tools.jackson.databind;

    opens dev.vacancy.cli to
            info.picocli;
    opens dev.vacancy.cli.asking to
            info.picocli;
    opens dev.vacancy.cli.configuration to
            info.picocli;
    opens dev.vacancy.cli.demo to
            info.picocli;
    opens dev.vacancy.cli.selecting to
            info.picocli;
    opens dev.vacancy.cli.showing to
            info.picocli;
    opens dev.vacancy.cli.verbs to
            info.picocli;

    uses dev.vacancy.demo.DemoDocuments.Provider;
    uses dev.vacancy.demo.DemoPages.Provider;
}
