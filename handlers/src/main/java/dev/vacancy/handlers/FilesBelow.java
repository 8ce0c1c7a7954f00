package dev.vacancy.handlers;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.followup.FollowUpHandler;
import dev.vacancy.followup.FollowUpMessage;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * Keeps the files of records in step: that of a record which goes is put aside, comes back with it, and is removed once the record can't
 * come back any more. Records say by their columns where their files are, from a folder on.
 *
 * <p>What is put aside stands in {@code .put-aside} in that folder, by record and message, so that another record may have a file of the
 * same name meanwhile, and the same one again. Nothing outside of the folder is touched: a path that leads out of it fails, and so does one over a
 * symbolic link.
 *
 * <p>A file belongs to one record: of one that several records name nobody knows whether another still needs it.
 *
 * <p>It may be used by any number of threads.
 *
 * @since 0.1
 */
public final class FilesBelow implements FollowUpHandler {
    private static final String ASIDE = ".put-aside";

    private static final Pattern COLUMN = Pattern.compile("\\{([^{}]+)\\}");

    private final Path folder;
    private final Optional<String> template;

    private FilesBelow(Path folder, Optional<String> template) {
        this.folder = folder;
        this.template = template;
    }

    /**
     * Takes files below a folder, whose path is in the only column that is handed over.
     *
     * @param folder the folder
     * @return the handler
     * @throws InvalidRequestException when it isn't there
     */
    public static FilesBelow of(Path folder) {
        try {
            return new FilesBelow(folder.toRealPath(), Optional.empty());
        } catch (IOException missing) {
            throw new InvalidRequestException(
                    FailureCode.USAGE, "There is no folder " + folder + ".", "Make it, or give another.");
        }
    }

    /**
     * Says where the file of a record is.
     *
     * @param path text with columns in braces, such as <code>{hive_no}/{photo_id}.jpg</code>; a record that lacks one of them has no file
     * @return the handler
     */
    public FilesBelow at(String path) {
        return new FilesBelow(folder, Optional.of(path));
    }

    @Override
    public void handle(FollowUpMessage message) throws IOException {
        Optional<File> file = file(message.table(), message.key(), message.values());
        if (file.isPresent()) {
            switch (message.action()) {
                case DELETED, MARKED -> file.get().putAside(message.id());
                case RESTORED -> file.get().bringBack();
                case PURGED -> file.get().remove();
                case CHANGED -> {
                    // It stays where it is.
                }
            }
        }
    }

    @Override
    public Optional<String> hinders(String table, Optional<String> key, Map<String, Object> values) {
        try {
            Optional<File> file = file(table, key, values);
            return file.isPresent() ? file.get().hindrance() : Optional.empty();
        } catch (IOException unreachable) {
            return Optional.of(String.valueOf(unreachable.getMessage()));
        }
    }

    private Optional<File> file(String table, Optional<String> key, Map<String, Object> values) throws IOException {
        Optional<String> path = path(values);
        if (path.isEmpty()) {
            return Optional.empty();
        }
        String record = UUID.nameUUIDFromBytes((table + " " + key.orElse("")).getBytes(StandardCharsets.UTF_8))
                .toString();
        String text = path.get();
        Path inPlace = below(text);
        if (folder.relativize(inPlace).getName(0).toString().equalsIgnoreCase(ASIDE)) {
            throw new IOException("the path '" + text + "' leads to what is put aside");
        }
        return Optional.of(new File(
                text,
                inPlace,
                below(ASIDE + "/" + record),
                folder.relativize(inPlace).toString()));
    }

    private Optional<String> path(Map<String, Object> values) throws IOException {
        if (template.isEmpty() && values.size() > 1) {
            throw new IOException("the path is made of the columns " + values.keySet()
                    + ", and nobody says how: write it with columns in braces, such as photos/{photo_id}.jpg");
        }
        String form = template.orElseGet(
                () -> values.isEmpty() ? "" : "{" + values.keySet().iterator().next() + "}");
        Matcher columns = COLUMN.matcher(form);
        StringBuilder path = new StringBuilder();
        while (columns.find()) {
            if (!values.containsKey(columns.group(1)) && !values.isEmpty()) {
                throw new IOException("the path is made of the column " + columns.group(1)
                        + ", which the follow-up doesn't hand over");
            }
            Object value = values.get(columns.group(1));
            if (value == null || value.toString().isBlank()) {
                return Optional.empty();
            }
            columns.appendReplacement(path, Matcher.quoteReplacement(value.toString()));
        }
        columns.appendTail(path);
        return path.isEmpty() ? Optional.empty() : Optional.of(path.toString());
    }

    /** No path leaves the folder, not even over a link that somebody has put there. */
    private Path below(String text) throws IOException {
        Path path;
        try {
            path = folder.resolve(text).normalize();
        } catch (InvalidPathException invalid) {
            throw new IOException("'" + text + "' is no path", invalid);
        }
        if (!path.startsWith(folder) || path.equals(folder)) {
            throw new IOException("the path '" + text + "' leads out of the folder");
        }
        for (Path part = path; !part.equals(folder); part = part.getParent()) {
            if (Files.isSymbolicLink(part)) {
                throw new IOException("the path '" + text + "' leads over a symbolic link");
            }
        }
        return path;
    }

    /**
     * The file of a record.
     *
     * @param name as the record says it
     * @param inPlace where it is while the record is there
     * @param ofRecord where everything is that was put aside of the record, in a folder for each message
     * @param within where it is in each of these
     */
    private record File(String name, Path inPlace, Path ofRecord, String within) {
        private static boolean isThere(Path path) {
            return Files.isRegularFile(path, LinkOption.NOFOLLOW_LINKS);
        }

        /** A file that isn't there never was there. One that is there again isn't the one that this message has put aside already. */
        void putAside(UUID message) throws IOException {
            Path aside = ofRecord.resolve(message.toString()).resolve(within);
            if (isThere(inPlace) && !isThere(aside)) {
                Files.createDirectories(aside.getParent());
                Files.move(inPlace, aside);
            }
        }

        /** All that was put aside under the name of the file: several, where a record of the same key has come and gone again. */
        private List<Path> aside() throws IOException {
            if (!Files.isDirectory(ofRecord, LinkOption.NOFOLLOW_LINKS)) {
                return List.of();
            }
            try (Stream<Path> messages = Files.list(ofRecord)) {
                return messages.map(message -> message.resolve(within))
                        .filter(File::isThere)
                        .toList();
            }
        }

        void bringBack() throws IOException {
            Optional<String> hindrance = hindrance();
            List<Path> aside = aside();
            if (hindrance.isPresent()) {
                throw new IOException(hindrance.get());
            }
            if (!aside.isEmpty()) {
                Files.createDirectories(inPlace.getParent());
                Files.move(aside.get(0), inPlace);
                removeEmpty(aside.get(0).getParent());
            }
        }

        void remove() throws IOException {
            for (Path aside : aside()) {
                Files.delete(aside);
                removeEmpty(aside.getParent());
            }
        }

        /** Folders that were made for it go with it. */
        private static void removeEmpty(Path from) throws IOException {
            for (Path empty = from; !empty.getFileName().toString().equals(ASIDE); empty = empty.getParent()) {
                try (var inside = Files.newDirectoryStream(empty)) {
                    if (inside.iterator().hasNext()) {
                        return;
                    }
                }
                Files.deleteIfExists(empty);
            }
        }

        Optional<String> hindrance() throws IOException {
            List<Path> aside = aside();
            if (aside.size() > 1) {
                return Optional.of(aside.size() + " files " + name
                        + " were put aside of it, one after the other, and nobody knows which is meant: leave only that one in "
                        + ofRecord);
            }
            if (aside.isEmpty()) {
                return isThere(inPlace) ? Optional.empty() : Optional.of("its file " + name + " is gone");
            }
            return Files.exists(inPlace, LinkOption.NOFOLLOW_LINKS)
                    ? Optional.of("there is a file " + name + " again")
                    : Optional.empty();
        }
    }
}
