package dev.vacancy.examples.spring;

import dev.vacancy.examples.spring.fleet.Harbour;
import dev.vacancy.hibernate.Deletions;
import java.util.List;
import org.springframework.data.jpa.repository.JpaRepository;

/** Harbours that aren't closed, with their closing. */
public interface HarbourRepository extends JpaRepository<Harbour, Integer>, Deletions<Harbour, Integer> {
    /** {@return all of them by name} */
    List<Harbour> findAllByOrderByName();
}
