package dev.vacancy.examples.spring;

import dev.vacancy.examples.spring.fleet.Craft;
import dev.vacancy.hibernate.Deletions;
import java.util.List;
import org.springframework.data.jpa.repository.EntityGraph;
import org.springframework.data.jpa.repository.JpaRepository;

/** Craft, with their deletion. */
public interface CraftRepository extends JpaRepository<Craft, Integer>, Deletions<Craft, Integer> {
    /** {@return the craft of a harbour, with their owners and stays} */
    @EntityGraph(attributePaths = {"owner", "stays"})
    List<Craft> findByHarbourIdOrderByName(int harbour);
}
