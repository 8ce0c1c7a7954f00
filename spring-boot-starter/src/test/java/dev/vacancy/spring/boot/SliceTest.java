package dev.vacancy.spring.boot;

import static dev.vacancy.test.VacancyAssertions.assertThat;
import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.By;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.hibernate.Deletions;
import dev.vacancy.spring.boot.MarinaApplication.Berth;
import dev.vacancy.spring.boot.MarinaApplication.Pier;
import jakarta.persistence.EntityManager;
import java.lang.reflect.Method;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.data.jpa.test.autoconfigure.DataJpaTest;
import org.springframework.test.context.TestContextManager;

/** A test of an application's that starts no more than what its data needs has deletions too, rolled back with it. */
class SliceTest {
    /** As the application's developers write it; here it is run by hand, twice on one context. */
    @DataJpaTest(properties = {"spring.flyway.enabled=false", "spring.liquibase.enabled=false", "vacancy.rules="})
    static class PiersTest {
        @Autowired
        private EntityManager entities;

        @Autowired
        private Vacancy vacancy;

        @Autowired
        private BerthRepository berths;

        @Autowired
        private Deletions<Pier, Integer> piers;

        void aPierTakesItsBerthsAlong() {
            assertThat(berths.count()).isZero();
            Pier pier = new Pier(1);
            entities.persist(pier);
            entities.persist(new Berth(11, pier));
            entities.persist(new Berth(12, pier));

            assertThat(vacancy.plan(Selection.of("pier").key(1), By.user("una")))
                    .deletes("berth", 2);
            assertThat(berths.delete(11, By.user("una")).ids()).isEqualTo(List.of(11));
            assertThat(piers.delete(1, By.user("una")).outcome()).deletes("berth", 1);
            assertThat(berths.count()).isZero();
            entities.persist(new Pier(2));
        }
    }

    @Test
    void deletionsArePartOfTheTestsTransaction() throws Exception {
        TestContextManager manager = new TestContextManager(PiersTest.class);
        for (int time = 1; time <= 2; time++) {
            PiersTest test = new PiersTest();
            manager.prepareTestInstance(test);
            Method method = PiersTest.class.getDeclaredMethod("aPierTakesItsBerthsAlong");
            manager.beforeTestMethod(test, method);
            test.aPierTakesItsBerthsAlong();
            assertThat(test.entities.find(Pier.class, 2)).isNotNull();
            manager.afterTestMethod(test, method, null);
        }
    }
}
