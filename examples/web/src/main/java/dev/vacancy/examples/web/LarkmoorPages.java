package dev.vacancy.examples.web;

import dev.vacancy.demo.DemoPages;
import dev.vacancy.followup.FollowUpHandler;
import dev.vacancy.handlers.FilesBelow;
import dev.vacancy.yaml.RulesFile;
import java.io.IOException;
import java.nio.file.Path;
import java.util.Map;
import javax.sql.DataSource;

/** Starts the application for the demo, with the rules in its file, and the files of photos beside it. */
public final class LarkmoorPages implements DemoPages.Provider {
    /** Prepares nothing. */
    public LarkmoorPages() {}

    @Override
    public DemoPages start(DataSource source, Path rules, int port) throws IOException {
        FollowUpHandler photos = FilesBelow.of(rules.resolveSibling("photos")).at("{photo_id}.svg");
        return LarkmoorWeb.start(source, RulesFile.read(rules), Map.of("files", photos), port);
    }
}
