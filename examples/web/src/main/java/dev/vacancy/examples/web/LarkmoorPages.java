package dev.vacancy.examples.web;

import dev.vacancy.demo.DemoPages;
import dev.vacancy.yaml.RulesFile;
import java.io.IOException;
import java.nio.file.Path;
import javax.sql.DataSource;

/** Starts the application for the demo, with the rules in its file. */
public final class LarkmoorPages implements DemoPages.Provider {
    /** Prepares nothing. */
    public LarkmoorPages() {}

    @Override
    public DemoPages start(DataSource source, Path rules, int port) throws IOException {
        return LarkmoorWeb.start(source, RulesFile.read(rules), port);
    }
}
