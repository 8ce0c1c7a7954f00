package dev.vacancy.examples.spring;

import dev.vacancy.examples.spring.fleet.Pier;
import dev.vacancy.hibernate.Deletions;
import java.util.List;
import org.springframework.data.jpa.repository.EntityGraph;
import org.springframework.data.jpa.repository.JpaRepository;

/** Piers, with their deletion. */
public interface PierRepository extends JpaRepository<Pier, Integer>, Deletions<Pier, Integer> {
    /** {@return the piers of a harbour, with their berths} */
    @EntityGraph(attributePaths = "berths")
    List<Pier> findByHarbourIdOrderByName(int harbour);
}
