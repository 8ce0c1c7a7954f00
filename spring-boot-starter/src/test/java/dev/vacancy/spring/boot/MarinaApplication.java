package dev.vacancy.spring.boot;

import dev.vacancy.By;
import dev.vacancy.Outcome;
import dev.vacancy.Permissions;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.spring.CurrentActor;
import dev.vacancy.web.Actors;
import jakarta.persistence.CascadeType;
import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.EntityManager;
import jakarta.persistence.Id;
import jakarta.persistence.JoinColumn;
import jakarta.persistence.ManyToOne;
import jakarta.persistence.OneToMany;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.springframework.boot.autoconfigure.SpringBootApplication;
import org.springframework.context.annotation.Bean;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RestController;

/** An application as its developers write it: entities, a service, a controller. */
@SpringBootApplication
class MarinaApplication {
    @Bean
    Permissions permissions() {
        return (by, action, table) -> by.actor().equals("una");
    }

    @Bean
    Actors actors() {
        return request -> Optional.ofNullable(request.getHeader("X-User")).map(By::user);
    }

    /** A pier. */
    @Entity(name = "pier")
    static class Pier {
        @Id
        @Column(name = "pier_id")
        private int id;

        @OneToMany(mappedBy = "pier", cascade = CascadeType.REMOVE)
        private List<Berth> berths = new ArrayList<>();

        protected Pier() {}

        Pier(int id) {
            this.id = id;
        }

        int id() {
            return id;
        }

        List<Berth> berths() {
            return berths;
        }
    }

    /** A berth at a pier; the schema that the mapper makes says nothing of what becomes of it. */
    @Entity(name = "berth")
    static class Berth {
        @Id
        @Column(name = "berth_id")
        private int id;

        @ManyToOne(optional = false)
        @JoinColumn(name = "pier_id")
        private Pier pier;

        protected Berth() {}

        Berth(int id, Pier pier) {
            this.id = id;
            this.pier = pier;
        }

        Pier pier() {
            return pier;
        }

        int id() {
            return id;
        }
    }

    /** What the application does with piers. */
    @Service
    static class Piers {
        private final EntityManager entities;
        private final Vacancy vacancy;

        Piers(EntityManager entities, Vacancy vacancy) {
            this.entities = entities;
            this.vacancy = vacancy;
        }

        @Transactional
        public void open(int number, int berths) {
            Pier pier = new Pier(number);
            entities.persist(pier);
            for (int i = 1; i <= berths; i++) {
                entities.persist(new Berth(number * 10 + i, pier));
            }
        }

        @Transactional
        public Outcome close(int number, boolean really) {
            Outcome outcome = vacancy.delete(Selection.of("pier").key(number), By.user("una"));
            if (!really) {
                throw new IllegalStateException("Not really");
            }
            return outcome;
        }

        /** Adds a berth, which isn't written yet, and takes away another; returns those that the pier has then. */
        @Transactional
        public List<Integer> exchange(int number, int added, int removed) {
            Pier pier = entities.find(Pier.class, number);
            Berth taken = entities.find(Berth.class, removed);
            Berth news = new Berth(added, pier);
            entities.persist(news);
            pier.berths().add(news);
            vacancy.delete(Selection.of("berth").key(removed), By.user("una"));
            if (entities.contains(taken)) {
                throw new IllegalStateException("It is still held");
            }
            return pier.berths().stream().map(Berth::id).toList();
        }

        @Transactional(readOnly = true)
        public long berths() {
            return entities.createQuery("select count(b) from berth b", Long.class)
                    .getSingleResult();
        }
    }

    /** What the application does with berths; the guide shows it. */
    @Service
    static class Berths {
        private final Vacancy vacancy;
        private final CurrentActor actor;

        Berths(Vacancy vacancy, CurrentActor actor) {
            this.vacancy = vacancy;
            this.actor = actor;
        }

        @Transactional
        public Outcome giveUp(int berth, String why) {
            return vacancy.delete(Selection.of("berth").key(berth), actor.by().because(why));
        }
    }

    /** The application's own resources. */
    @RestController
    static class Harbour {
        private final Piers piers;

        Harbour(Piers piers) {
            this.piers = piers;
        }

        @PutMapping("/piers/{number}")
        public void open(@PathVariable("number") int number) {
            piers.open(number, 2);
        }

        @DeleteMapping("/piers/{number}")
        public long close(@PathVariable("number") int number) {
            return piers.close(number, true).total();
        }
    }
}
