package dev.vacancy.hibernate;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Vacancy;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import jakarta.persistence.AttributeConverter;
import jakarta.persistence.Convert;
import jakarta.persistence.Converter;
import jakarta.persistence.Entity;
import jakarta.persistence.EntityManagerFactory;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.Id;
import jakarta.persistence.ManyToOne;
import java.time.LocalDate;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import org.hibernate.jpa.HibernatePersistenceConfiguration;
import org.hibernate.type.YesNoConverter;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Criteria compare attributes with values as the attributes have them. */
class AttributeValuesTest {
    private static final UUID MARK = UUID.fromString("7c9e6679-7425-40de-944b-e07fc1f90ae7");

    private static final By UNA = By.user("una");

    enum Lay {
        LEFT,
        RIGHT
    }

    record Colour(int red, int green, int blue) {}

    @Converter
    static class ColourConverter implements AttributeConverter<Colour, String> {
        @Override
        public String convertToDatabaseColumn(Colour colour) {
            return "%02x%02x%02x".formatted(colour.red(), colour.green(), colour.blue());
        }

        @Override
        public Colour convertToEntityAttribute(String text) {
            int all = Integer.parseInt(text, 16);
            return new Colour(all >> 16, all >> 8 & 255, all & 255);
        }
    }

    @Entity(name = "Locker")
    static class Locker {
        @Id
        int id = 1;
    }

    @Entity(name = "Rope")
    static class Rope {
        @Id
        int id = 1;

        @Enumerated(EnumType.STRING)
        Lay lay = Lay.RIGHT;

        @Enumerated(EnumType.ORDINAL)
        Lay formerLay = Lay.RIGHT;

        @Convert(converter = ColourConverter.class)
        Colour colour = new Colour(255, 128, 0);

        @Convert(converter = YesNoConverter.class)
        boolean spliced = true;

        LocalDate boughtOn = LocalDate.of(2026, 5, 1);
        UUID mark = MARK;

        @ManyToOne
        Locker locker;
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void anAttributeIsComparedWithItsOwnValues(Engine engine) {
        Database database = engine.database();
        try (EntityManagerFactory factory = new HibernatePersistenceConfiguration("locker")
                .managedClasses(Locker.class, Rope.class)
                .property("jakarta.persistence.nonJtaDataSource", database.source())
                .property("hibernate.hbm2ddl.auto", "create")
                .createEntityManagerFactory()) {
            Rope rope = new Rope();
            rope.locker = new Locker();
            Rope other = new Rope();
            other.id = 2;
            other.lay = Lay.LEFT;
            other.formerLay = Lay.LEFT;
            other.colour = new Colour(0, 0, 0);
            other.spliced = false;
            other.boughtOn = LocalDate.EPOCH;
            other.mark = new UUID(1, 2);
            factory.runInTransaction(
                    manager -> List.of(rope.locker, rope, other).forEach(manager::persist));
            Vacancy vacancy = Vacancy.over(database.source());
            Deletions<Rope, Integer> ropes = EntityMapping.of(factory).deletions(vacancy, Rope.class);
            Map<String, Object> values = new LinkedHashMap<>();
            values.put("lay", Lay.RIGHT);
            values.put("formerLay", Lay.RIGHT);
            values.put("colour", new Colour(255, 128, 0));
            values.put("spliced", true);
            values.put("boughtOn", LocalDate.of(2026, 5, 1));
            values.put("mark", MARK);
            values.put("locker", rope.locker);

            values.forEach((attribute, value) -> {
                Criteria same = ropes.attribute(attribute).equalTo(value);
                assertThat(ropes.plan(ropes.select(same), UNA).selected())
                        .as(attribute)
                        .isEqualTo(1);
                Criteria among = ropes.attribute(attribute).oneOf(List.of(value));
                assertThat(ropes.plan(ropes.select(among), UNA).selected())
                        .as(attribute)
                        .isEqualTo(1);
            });
            assertThat(ropes.plan(ropes.select(ropes.attribute("locker").equalTo(1)), UNA)
                            .selected())
                    .isEqualTo(1);
        }
    }
}
