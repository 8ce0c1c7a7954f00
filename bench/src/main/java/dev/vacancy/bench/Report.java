package dev.vacancy.bench;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Figures as a page: what was measured, where, and how far it is from what it should be. */
final class Report {
    /** What is told without an aim. */
    private static final double NONE = Double.MAX_VALUE;

    private final List<Figure> figures;
    private final List<Crew.Shared> shared;
    private final List<String> versions;
    private final int rounds;
    private final int hives;

    Report(List<Figure> figures, List<Crew.Shared> shared, List<String> versions, int rounds, int hives) {
        this.figures = figures;
        this.shared = shared;
        this.versions = versions;
        this.rounds = rounds;
        this.hives = hives;
    }

    /** A ratio that is watched. */
    private record Aim(String words, Optional<Double> ratio, double most) {
        String limit() {
            return most == NONE ? "-" : String.format(Locale.ROOT, "≤ %.2f", most);
        }
    }

    String text() throws IOException {
        StringBuilder text = new StringBuilder("# Benchmarks\n\n");
        text.append("Written by `bench/run`; see `bench/run --help`. Of ")
                .append(String.format(Locale.ROOT, "%,d", hives))
                .append(
                        " hives with 67 records below each, the first few are deleted: by Vacancy, by five statements by")
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
        if (!shared.isEmpty()) {
            text.append(String.format(
                    Locale.ROOT,
                    "%n## Several processes%n%nA bulk run of %,d hives, %,d records, on PostgreSQL, shared by processes that have"
                            + " just started: from when all are ready to when all have ended.%n%n"
                            + "| processes | median ms | times as fast as one |%n|---:|---:|---:|%n",
                    shared.get(0).hives(),
                    shared.get(0).hives() * Yard.RECORDS_OF_A_HIVE));
            for (Crew.Shared crew : shared) {
                text.append(String.format(
                        Locale.ROOT,
                        "| %d | %,.0f | %.2f |%n",
                        crew.processes(),
                        crew.millis(),
                        shared.get(0).millis() / crew.millis()));
            }
        }
        return text.toString();
    }

    private List<Aim> aims(String store) {
        List<Integer> sizes =
                figures.stream().map(Figure::hives).distinct().sorted().toList();
        List<Aim> aims = new ArrayList<>();
        for (int size : sizes) {
            String records = String.format(Locale.ROOT, "%,d records: ", size * Yard.RECORDS_OF_A_HIVE);
            aims.add(new Aim(
                    records + "run / SQL by hand", ratio(store, "Vacancy run", "SQL by hand", size, size), 1.05));
            aims.add(new Aim(
                    records + "run / own cascade", ratio(store, "Vacancy run", "own cascade", size, size), 1.35));
            aims.add(new Aim(records + "plan / run", ratio(store, "Vacancy plan", "Vacancy run", size, size), 0.25));
            aims.add(new Aim(
                    records + "run with trail / own cascade with row trigger",
                    ratio(store, "Vacancy run, with trail", "own cascade, with row trigger", size, size),
                    0.70));
            aims.add(new Aim(
                    records + "run with trail / run without",
                    ratio(store, "Vacancy run, with trail", "Vacancy run", size, size),
                    NONE));
            aims.add(new Aim(
                    records + "one at a time / own cascade one at a time",
                    ratio(store, "Vacancy, one at a time", "own cascade, one at a time", size, size),
                    8));
            aims.add(new Aim(
                    records + "direct, one at a time / own cascade one at a time",
                    ratio(store, "Vacancy, direct, one at a time", "own cascade, one at a time", size, size),
                    8));
            aims.add(new Aim(
                    records + "direct, one at a time / planned and run",
                    ratio(store, "Vacancy, direct, one at a time", "Vacancy, one at a time", size, size),
                    NONE));
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
