package dev.vacancy.bench;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Figures as a page: what was measured, where, and how far it is from what it should be. */
final class Report {
    /** What is told without an aim. */
    private static final double NONE = Double.MAX_VALUE;

    private final List<Figure> figures;
    private final List<String> versions;
    private final int rounds;
    private final int hives;
    private final String notes;

    /**
     * Takes the figures.
     *
     * @param notes what people have to say of them, in Markdown
     */
    Report(List<Figure> figures, List<String> versions, int rounds, int hives, String notes) {
        this.figures = figures;
        this.versions = versions;
        this.rounds = rounds;
        this.hives = hives;
        this.notes = notes;
    }

    private static final List<Watched> WATCHED = List.of(
            new Watched("Vacancy plan", "Vacancy run", 0.25),
            new Watched("Vacancy run", "own cascade", 1.3),
            new Watched("Vacancy run", "SQL by hand", 1.05),
            new Watched("Vacancy delete", "own cascade", 1.15),
            new Watched("Vacancy delete", "SQL by hand", 1.05),
            new Watched("Vacancy run, with trail", "own cascade, with row trigger", 0.7),
            new Watched("Vacancy run, with trail", "Vacancy run", 3),
            new Watched("Vacancy restore", "Vacancy run, with trail", 1.5),
            new Watched("Vacancy delete, hive by hive", "own cascade, hive by hive", 6),
            new Watched("Vacancy plan and run, hive by hive", "own cascade, hive by hive", NONE));

    /** Two contenders whose ratio is watched at each size. */
    private record Watched(String above, String below, double most) {}

    /** A ratio as it was measured. */
    private record Aim(String words, Optional<Double> ratio, double most) {
        String limit() {
            return most == NONE ? "-" : String.format(Locale.ROOT, "≤ %.2f", most);
        }
    }

    String text() throws IOException {
        StringBuilder text = new StringBuilder("# Benchmarks\n\n");
        text.append("Written by `bench/run`, with `bench/notes.md` at its end; see `bench/run --help`. Of ")
                .append(String.format(Locale.ROOT, "%,d", hives))
                .append(
                        " hives with 67 records below each, some that lie scattered are deleted: by Vacancy, by five statements by")
                .append(
                        " hand, and by one statement with ON DELETE CASCADE, all on the same schema. Each contender starts")
                .append(" from fresh data; one round has all of them, in a new order; the figures are medians of ")
                .append(rounds)
                .append(
                        " rounds after two that don't count. PostgreSQL doesn't flush to disk (`fsync` off), H2 is a file.\n\n")
                .append("Machine: ")
                .append(Machine.words())
                .append(". ")
                .append(String.join(", ", versions))
                .append(".\n");
        for (String store : figures.stream().map(Figure::store).distinct().toList()) {
            String plot = "benchmarks-" + store.toLowerCase(Locale.ROOT) + ".svg";
            text.append("\n## ")
                    .append(store)
                    .append("\n\n![Time over records](")
                    .append(plot)
                    .append(")\n\n");
            text.append("| hives | records | contender | median ms | fastest ms | bytes allocated a record |\n");
            text.append("|---:|---:|---|---:|---:|---:|\n");
            figures.stream()
                    .filter(figure -> figure.store().equals(store))
                    .sorted(Comparator.comparingInt(Figure::hives)
                            .thenComparing(figure -> Contender.labels().indexOf(figure.label())))
                    .forEach(figure -> text.append(String.format(
                            Locale.ROOT,
                            "| %,d | %,d | %s | %,.1f | %,.1f | %,.0f |%n",
                            figure.hives(),
                            figure.records(),
                            figure.label(),
                            figure.millis(),
                            figure.fastest(),
                            figure.bytesEach())));
            text.append("\n| ratio | measured | aim |\n|---|---:|---:|\n");
            for (Aim aim : aims(store)) {
                aim.ratio()
                        .ifPresent(ratio -> text.append(
                                String.format(Locale.ROOT, "| %s | %.2f | %s |%n", aim.words(), ratio, aim.limit())));
            }
        }
        return text.append('\n').append(notes).toString();
    }

    private List<Aim> aims(String store) {
        List<Integer> sizes =
                figures.stream().map(Figure::hives).distinct().sorted().toList();
        List<Aim> aims = new ArrayList<>();
        for (int size : sizes) {
            String records = String.format(Locale.ROOT, "%,d records: ", size * Yard.RECORDS_OF_A_HIVE);
            for (Watched watched : WATCHED) {
                aims.add(new Aim(
                        records + watched.above() + " / " + watched.below(),
                        ratio(store, watched.above(), watched.below(), size, size),
                        watched.most()));
            }
        }
        for (int i = 1; i < sizes.size(); i++) {
            int more = sizes.get(i);
            int fewer = sizes.get(i - 1);
            if (more == 10 * fewer) {
                aims.add(new Aim(
                        String.format(
                                Locale.ROOT,
                                "run of %,d records / run of %,d",
                                more * Yard.RECORDS_OF_A_HIVE,
                                fewer * Yard.RECORDS_OF_A_HIVE),
                        ratio(store, "Vacancy run", "Vacancy run", more, fewer),
                        11));
            }
        }
        return aims;
    }

    private Optional<Double> ratio(String store, String above, String below, int aboveHives, int belowHives) {
        return millis(store, above, aboveHives)
                .flatMap(upper -> millis(store, below, belowHives).map(lower -> upper / lower));
    }

    private Optional<Double> millis(String store, String label, int size) {
        return figures.stream()
                .filter(figure ->
                        figure.store().equals(store) && figure.label().equals(label) && figure.hives() == size)
                .map(Figure::millis)
                .findFirst();
    }
}
