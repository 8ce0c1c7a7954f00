package dev.vacancy.examples.spring.fleet;

import jakarta.persistence.CascadeType;
import jakarta.persistence.Column;
import jakarta.persistence.ElementCollection;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.ManyToOne;
import jakarta.persistence.OneToMany;
import jakarta.persistence.OrderBy;
import jakarta.persistence.Version;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

/** A pier with its berths and the colours of its lamps. */
@Entity
public class Pier {
    @Id
    private int id;

    private String name;

    @ManyToOne(optional = false)
    private Harbour harbour;

    @OneToMany(mappedBy = "pier", cascade = CascadeType.ALL, orphanRemoval = true)
    @OrderBy("id")
    private List<Berth> berths = new ArrayList<>();

    @ElementCollection
    @Column(nullable = false)
    private Set<String> lamps = new HashSet<>();

    @Version
    private int version;

    /** For the mapper. */
    protected Pier() {}

    public Pier(int id, String name, Harbour harbour) {
        this.id = id;
        this.name = name;
        this.harbour = harbour;
        harbour.getPiers().add(this);
    }

    public int getId() {
        return id;
    }

    public String getName() {
        return name;
    }

    public Harbour getHarbour() {
        return harbour;
    }

    public List<Berth> getBerths() {
        return berths;
    }

    public Set<String> getLamps() {
        return lamps;
    }
}
