package dev.vacancy.examples.spring.fleet;

import jakarta.persistence.CascadeType;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.OneToMany;
import java.util.ArrayList;
import java.util.List;
import org.hibernate.annotations.SoftDelete;
import org.hibernate.annotations.SoftDeleteType;

/** A harbour of the marinas. Each has its own people, who see and delete what is its own. One that is closed stays on record. */
@Entity
@SoftDelete(strategy = SoftDeleteType.TIMESTAMP, columnName = "closed_at")
public class Harbour {
    @Id
    private int id;

    private String name;

    @OneToMany(mappedBy = "harbour", cascade = CascadeType.ALL)
    private List<Pier> piers = new ArrayList<>();

    /** For the mapper. */
    protected Harbour() {}

    public Harbour(int id, String name) {
        this.id = id;
        this.name = name;
    }

    public int getId() {
        return id;
    }

    public String getName() {
        return name;
    }

    public List<Pier> getPiers() {
        return piers;
    }
}
