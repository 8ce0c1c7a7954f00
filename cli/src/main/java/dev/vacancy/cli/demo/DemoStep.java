package dev.vacancy.cli.demo;

import java.util.List;
import java.util.stream.Stream;

/**
 * A command of the walk, as a user would give it.
 *
 * @param title what it is for
 * @param answer what the user answers if they are asked
 * @param command the words of the command
 */
record DemoStep(String title, String answer, List<String> command) {
    private static final String YES = "yes";

    private static DemoStep of(String title, String... command) {
        return new DemoStep(title, "", List.of(command));
    }

    private DemoStep answering(String other) {
        return new DemoStep(title, other, command);
    }

    private static DemoStep previewing(String title) {
        return of(title, "preview", "hive", "--key", "12");
    }

    private static DemoStep deletingHive(String title) {
        return of(title, "delete", "hive", "--key", "12", "--yes", "--as", "odile", "--reason", "colony lost");
    }

    private static List<DemoStep> refused() {
        return List.of(
                of("Hive 4 gave honey to batches that were sold, so it can't go.", "delete", "hive", "--key", "4"),
                of("Deleting asks first. Whoever doesn't say yes has said no.", "delete", "hive", "--key", "12")
                        .answering("no"));
    }

    /** A keeper leaves and comes back. */
    private static List<DemoStep> leaving(String title, String takenOver) {
        return List.of(
                of(title, "delete", "keeper", "--key", "3", "--reassign", takenOver, "--as", "tam")
                        .answering(YES),
                of("Whoever has left is marked, and still there.", "deleted", "keeper"),
                of("She comes back, with all that went or changed.", "restore", "last", "--as", "una")
                        .answering(YES));
    }

    private static List<DemoStep> told(String takenOver) {
        return List.of(
                of("Who did what?", "history"),
                of("And what became of keeper 3?", "history", "--table", "keeper", "--key", "3"),
                of("Has anybody tampered with that?", "history", "verify"),
                of(
                                "Keeper 12 left long ago. Whoever is past the retention goes for good.",
                                "purge",
                                "keeper",
                                "--reassign",
                                takenOver,
                                "--as",
                                "night shift")
                        .answering(YES));
    }

    private static List<DemoStep> all(Stream<List<DemoStep>> parts) {
        return parts.flatMap(List::stream).toList();
    }

    /** The job on a relational database. */
    static List<DemoStep> onTables() {
        String takenOver = "inspection.keeper_id=7";
        return all(Stream.of(
                List.of(
                        of("What is in the database, and what is the rule of each link?", "map"),
                        of("Is anything about schema and rules risky?", "check"),
                        previewing(
                                "What would go with hive 12, its queen and its photos among it? Looking changes nothing."),
                        of(
                                "Records can be picked by what they and their parents hold.",
                                "preview",
                                "inspection",
                                "--where",
                                "hive.name = 'Bramble Three' and inspected_on < '2026-08-01'")),
                refused(),
                List.of(
                        deletingHive("Now with a clear yes. Exactly what was shown happens, all of it or nothing."),
                        of(
                                "Of hives 4 and 13 the one that can go does; the other is left out, and why is said.",
                                "delete",
                                "hive",
                                "--key",
                                "4",
                                "--key",
                                "13",
                                "--skip-blocked",
                                "--yes"),
                        previewing("Hive 12 is gone. A key that matches nothing is said, not passed over.")),
                leaving("Keeper 3 leaves, and keeper 7 takes over the inspections.", takenOver),
                List.of(of(
                                "The hives above were deleted by mistake. Readings and all, the last of them is as it was.",
                                "restore",
                                "last",
                                "--as",
                                "una")
                        .answering(YES)),
                told(takenOver)));
    }

    /** The job on documents. */
    static List<DemoStep> onDocuments() {
        String takenOver = "hive.inspections.keeper=7";
        return all(Stream.of(
                List.of(
                        of("What is in the database, and what is the rule of each link?", "map"),
                        of("Is anything about collections and rules risky?", "check"),
                        previewing(
                                "What would go with hive 12? What is embedded goes with it. Looking changes nothing."),
                        of(
                                "Documents can be picked by what is embedded in them, and by what they refer to.",
                                "preview",
                                "hive",
                                "--where",
                                "inspections.note = 'queen seen and marked' and apiary.name = 'Bramble'")),
                refused(),
                List.of(
                        deletingHive("Now with a clear yes. Photos stay, and show it no more."),
                        of(
                                "Many go in chunks. This server has no transactions: what is cut off is finished or taken back.",
                                "delete",
                                "reading",
                                "--where",
                                "takenAt < '2026-03-15'",
                                "--chunk",
                                "500",
                                "--yes",
                                "--as",
                                "night shift"),
                        of("How far is that?", "runs")),
                leaving(
                        "Keeper 3 leaves, and keeper 7 takes over the inspections, wherever they are embedded.",
                        takenOver),
                told(takenOver)));
    }
}
