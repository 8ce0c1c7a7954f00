package dev.vacancy.cli.configuration;

import dev.vacancy.Vacancy;
import dev.vacancy.followup.FollowUpHandler;
import dev.vacancy.handlers.FilesBelow;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Set;
import picocli.CommandLine.Option;

/** Which follow-ups keep files in step, and where these are. */
public final class FilesOption {
    @Option(
            names = "--files",
            paramLabel = "NAME=PATH",
            description = "The follow-up NAME keeps files in step; PATH is their folder, or goes on with columns in"
                    + " braces, such as photos/{photo_id}.jpg.")
    private Map<String, String> files = new LinkedHashMap<>();

    /** The follow-ups that do. */
    public Set<String> names() {
        return files.keySet();
    }

    /**
     * Has files kept in step.
     *
     * @param folder the folder that paths start from
     */
    public Vacancy addTo(Vacancy vacancy, Path folder) {
        Vacancy handled = vacancy;
        for (Map.Entry<String, String> file : files.entrySet()) {
            handled = handled.withFollowUp(file.getKey(), files(file.getValue(), folder));
        }
        return handled;
    }

    /** The folder is what stands before the first part with a column in it. */
    private static FollowUpHandler files(String given, Path folder) {
        Path whole = Path.of(given);
        Path beginning = whole.isAbsolute() ? whole.getRoot() : folder;
        int parts = 0;
        while (parts < whole.getNameCount() && !whole.getName(parts).toString().contains("{")) {
            beginning = beginning.resolve(whole.getName(parts));
            parts++;
        }
        FilesBelow handler = FilesBelow.of(beginning);
        return parts == whole.getNameCount()
                ? handler
                : handler.at(whole.subpath(parts, whole.getNameCount()).toString());
    }
}
