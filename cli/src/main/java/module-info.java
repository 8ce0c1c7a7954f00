/** The command-line tool. */
@SuppressWarnings("requires-automatic") // commons-text publishes a name, not yet a descriptor
module dev.vacancy.cli {
    requires com.zaxxer.hikari;
    requires dev.vacancy.core;
    requires dev.vacancy.demo;
    requires info.picocli;
    requires org.apache.commons.text;
    requires tools.jackson.core;
    requires tools.jackson.databind;
    requires tools.jackson.dataformat.yaml;

    opens dev.vacancy.cli to
            info.picocli;
}
