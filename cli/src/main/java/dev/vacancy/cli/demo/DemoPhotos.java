package dev.vacancy.cli.demo;

import dev.vacancy.demo.Larkmoor;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.stream.Stream;

/** The files of the demo's photos, a small drawing each. */
final class DemoPhotos {
    static final String FOLDER = "photos";

    private static final List<String> COLOURS = List.of("#c98f1b", "#7a9a3d", "#4f7d8c", "#a65d3f", "#8a6fa8");
    private static final int SKIES = 7;

    private DemoPhotos() {}

    /** Writes them anew, whatever became of them. */
    static void write(Path folder) throws IOException {
        if (Files.exists(folder)) {
            try (Stream<Path> files = Files.walk(folder)) {
                for (Path file : files.sorted(Comparator.reverseOrder()).toList()) {
                    Files.delete(file);
                }
            }
        }
        Files.createDirectories(folder);
        for (int photo = 1; photo <= Larkmoor.PHOTOS; photo++) {
            Files.writeString(folder.resolve(photo + ".svg"), drawing(photo));
        }
    }

    /** A hive in a meadow. */
    private static String drawing(int photo) {
        return String.format(
                Locale.ROOT,
                "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 120 90\">"
                        + "<rect width=\"120\" height=\"90\" fill=\"#dcebf2\"/>"
                        + "<circle cx=\"%d\" cy=\"18\" r=\"9\" fill=\"#f3d35b\"/>"
                        + "<rect y=\"64\" width=\"120\" height=\"26\" fill=\"#a9c47f\"/>"
                        + "<path d=\"M44 36h32l4 34H40z\" fill=\"%s\"/>"
                        + "<rect x=\"52\" y=\"62\" width=\"16\" height=\"4\" fill=\"#3a2c1a\"/>"
                        + "<text x=\"60\" y=\"54\" font-size=\"12\" text-anchor=\"middle\">%d</text></svg>%n",
                14 + 15 * (photo % SKIES),
                COLOURS.get(photo % COLOURS.size()),
                photo);
    }
}
