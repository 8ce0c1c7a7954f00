package dev.vacancy.demo;

import java.math.BigDecimal;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.Locale;
import java.util.Random;

/** Fills the tables. Every choice comes from a seeded generator whose algorithm the Java platform fixes. */
final class Generator {
    /** In each so many inspections a colleague is named. */
    private static final int ASKED_EVERY = 37;

    private static final LocalDate SEASON = LocalDate.of(2026, 3, 1);
    private static final LocalDateTime LEFT = LocalDateTime.of(2026, 10, 31, 18, 0);
    private static final int KEEPERS = 12;
    private static final int APIARIES = 6;
    private static final int HIVES = 40;
    private static final int QUEENS = 60;
    private static final int INSPECTIONS = 400;
    private static final int FRAME_CHECKS = 3_000;
    private static final int TREATMENTS = 60;
    private static final int READINGS = 20_000;
    private static final int BATCHES = 15;

    private final Connection connection;
    private final int scale;
    private final Random random = new Random(1887);

    Generator(Connection connection, int scale) {
        this.connection = connection;
        this.scale = scale;
    }

    void fill() throws SQLException {
        keepers();
        apiaries();
        placements();
        queensAndHives();
        inspections();
        treatments();
        readings();
        batches();
        photos();
    }

    private void keepers() throws SQLException {
        try (Rows rows = new Rows(connection, "keeper", 5)) {
            for (int i = 1; i <= KEEPERS * scale; i++) {
                String name = repeated(Words.KEEPERS, i);
                String email = name.toLowerCase(Locale.ROOT).replace(' ', '.') + "@larkmoor.example";
                rows.add(i, name, email, SEASON.minusDays(200L + random.nextInt(3000)), i == KEEPERS ? LEFT : null);
            }
        }
    }

    private void apiaries() throws SQLException {
        try (Rows rows = new Rows(connection, "apiary", 4)) {
            for (int i = 1; i <= APIARIES * scale; i++) {
                rows.add(i, repeated(Words.APIARIES, i), pick(Words.VILLAGES, i), null);
            }
        }
    }

    /** Each apiary has a lead, a helper and a learner, and each of its keepers has a stay there on record. */
    private void placements() throws SQLException {
        try (Rows rows = new Rows(connection, "apiary_keeper", 3)) {
            for (int apiary = 1; apiary <= APIARIES * scale; apiary++) {
                for (int i = 0; i < Words.ROLES.length; i++) {
                    rows.add(apiary, keeperOf(apiary, i), Words.ROLES[i]);
                }
            }
        }
        try (Rows rows = new Rows(connection, "placement", 5)) {
            int id = 0;
            for (int apiary = 1; apiary <= APIARIES * scale; apiary++) {
                for (int i = 0; i < Words.ROLES.length; i++) {
                    LocalDate from = SEASON.minusDays(random.nextInt(400));
                    LocalDate until = random.nextInt(3) == 0 ? from.plusDays(90) : null;
                    rows.add(++id, keeperOf(apiary, i), apiary, from, until);
                }
            }
        }
    }

    /** The first queens have no mother; the later ones are daughters of those. Every hive has a queen, some wait. */
    private void queensAndHives() throws SQLException {
        try (Rows rows = new Rows(connection, "queen", 6)) {
            for (int i = 1; i <= QUEENS * scale; i++) {
                LocalDate hatched = SEASON.minusDays(30L + random.nextInt(900));
                Integer mother = i <= 15 ? null : 1 + random.nextInt(i - 1);
                String mark = Words.MARKS[Math.floorMod(hatched.getYear() - 1, Words.MARKS.length)];
                rows.add(i, repeated(Words.QUEENS, i), mark, hatched, mother, null);
            }
        }
        try (Rows rows = new Rows(connection, "hive", 6)) {
            for (int i = 1; i <= HIVES * scale; i++) {
                int apiary = apiaryOf(i);
                String name = repeated(Words.APIARIES, apiary) + " " + Words.NUMBERS[placeInApiary(i)];
                rows.add(i, name, apiary, i, pick(Words.WOODS, i), SEASON.minusDays(random.nextInt(1500)));
            }
        }
        try (var statement = connection.prepareStatement("update queen set hive_id = queen_id where queen_id <= ?")) {
            statement.setInt(1, HIVES * scale);
            statement.executeUpdate();
        }
    }

    private void inspections() throws SQLException {
        try (Rows rows = new Rows(connection, "inspection", 5)) {
            for (int i = 1; i <= INSPECTIONS * scale; i++) {
                int hive = random.nextInt(4) == 0 ? anyHive() : 1 + (i - 1) % (HIVES * scale);
                int keeper = keeperOf(apiaryOf(hive), random.nextInt(Words.ROLES.length));
                LocalDate on = SEASON.plusDays(random.nextInt(240));
                String note = pick(Words.NOTES, random.nextInt(99));
                rows.add(
                        i,
                        hive,
                        keeper,
                        on,
                        i % ASKED_EVERY == 0 ? note + "; asked " + colleague(i) + " to look" : note);
            }
        }
        try (Rows rows = new Rows(connection, "frame_check", 4)) {
            for (int i = 0; i < FRAME_CHECKS * scale; i++) {
                int inspection = 1 + i % (INSPECTIONS * scale);
                int frame = 1 + i / (INSPECTIONS * scale);
                rows.add(inspection, frame, random.nextInt(101), pick(Words.STORES, random.nextInt(99)));
            }
        }
    }

    /** All withholding periods are over but one, which never ends: that comb must not be harvested again. */
    private void treatments() throws SQLException {
        try (Rows rows = new Rows(connection, "treatment", 5)) {
            for (int i = 1; i <= TREATMENTS * scale; i++) {
                LocalDate applied = SEASON.plusDays(random.nextInt(180));
                boolean forever = i % TREATMENTS == 0;
                rows.add(
                        i,
                        forever ? 33 + HIVES * (i / TREATMENTS - 1) : anyHive(),
                        forever ? "sulphur smoke" : pick(Words.REMEDIES, random.nextInt(99)),
                        applied,
                        forever ? LocalDate.of(9999, 12, 31) : applied.plusDays(42));
            }
        }
    }

    /** Every hive is weighed as often as any other, at all hours. */
    private void readings() throws SQLException {
        try (Rows rows = new Rows(connection, "reading", 5)) {
            for (int i = 0; i < READINGS * scale; i++) {
                int hive = 1 + i % (HIVES * scale);
                int round = i / (HIVES * scale);
                rows.add(
                        (long) i + 1,
                        hive,
                        SEASON.atStartOfDay().plusHours(11L * round).plusMinutes(hive % 60),
                        BigDecimal.valueOf(2_500L + random.nextInt(3_500), 2),
                        BigDecimal.valueOf(330L + random.nextInt(30), 1));
            }
        }
    }

    /** Each batch is drawn from three hives in the second half of an apiary's rows, so that many hives are in none. */
    private void batches() throws SQLException {
        try (Rows rows = new Rows(connection, "honey_batch", 5)) {
            for (int i = 1; i <= BATCHES * scale; i++) {
                LocalDate jarred = SEASON.plusDays(120L + random.nextInt(60));
                LocalDate sold = i % 3 == 0 ? null : jarred.plusDays(10L + random.nextInt(50));
                String code = String.format(Locale.ROOT, "LM-26-%03d", i);
                rows.add(i, code, jarred, BigDecimal.valueOf(200L + random.nextInt(600), 1), sold);
            }
        }
        try (Rows rows = new Rows(connection, "batch_hive", 3)) {
            for (int i = 1; i <= BATCHES * scale; i++) {
                int first = 4 + 20 * random.nextInt(2 * scale);
                for (int hive = first; hive < first + 6; hive += 2) {
                    rows.add(i, hive, 1 + random.nextInt(8));
                }
            }
        }
    }

    private void photos() throws SQLException {
        try (Rows rows = new Rows(connection, "photo", 5)) {
            for (int i = 1; i <= Larkmoor.PHOTOS * scale; i++) {
                boolean ofHive = i % 4 != 0;
                int subject = ofHive ? anyHive() : 1 + random.nextInt(APIARIES * scale);
                String caption = (ofHive ? "Hive " : "Apiary ") + subject + ", " + pick(Words.NOTES, i);
                LocalDate taken = SEASON.plusDays(random.nextInt(240));
                rows.add(i, caption, taken, ofHive ? subject : null, ofHive ? null : subject);
            }
        }
    }

    private static String colleague(int inspection) {
        return pick(Words.KEEPERS, inspection / ASKED_EVERY);
    }

    private int anyHive() {
        return 1 + random.nextInt(HIVES * scale);
    }

    private int keeperOf(int apiary, int role) {
        return 1 + (apiary * 5 + role * 3) % (KEEPERS * scale);
    }

    private static int apiaryOf(int hive) {
        int round = (hive - 1) / HIVES;
        int place = (hive - 1) % HIVES;
        int apiary = 0;
        while (place >= Words.HIVES_IN_APIARY[apiary]) {
            place -= Words.HIVES_IN_APIARY[apiary++];
        }
        return round * APIARIES + apiary + 1;
    }

    private static int placeInApiary(int hive) {
        int place = (hive - 1) % HIVES;
        int apiary = 0;
        while (place >= Words.HIVES_IN_APIARY[apiary]) {
            place -= Words.HIVES_IN_APIARY[apiary++];
        }
        return place;
    }

    private static String pick(String[] words, int number) {
        return words[number % words.length];
    }

    /** The words in turn; from the second round on with the round's number, so that names stay distinct. */
    private static String repeated(String[] words, int number) {
        int round = (number - 1) / words.length;
        String word = words[(number - 1) % words.length];
        return round == 0 ? word : word + " " + (round + 1);
    }
}
