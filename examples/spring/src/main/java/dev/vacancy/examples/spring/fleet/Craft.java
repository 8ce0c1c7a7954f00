package dev.vacancy.examples.spring.fleet;

import jakarta.persistence.CascadeType;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Inheritance;
import jakarta.persistence.InheritanceType;
import jakarta.persistence.ManyToMany;
import jakarta.persistence.ManyToOne;
import jakarta.persistence.OneToMany;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

/** A craft; its kinds have tables of their own. */
@Entity
@Inheritance(strategy = InheritanceType.JOINED)
public abstract class Craft {
    @Id
    private int id;

    private String name;

    @ManyToOne(optional = false)
    private Harbour harbour;

    /** Nobody needs an owner of whom nothing is left; so the owner goes with the last craft. */
    @ManyToOne(
            optional = false,
            cascade = {CascadeType.PERSIST, CascadeType.REMOVE})
    private Owner owner;

    @ManyToMany
    private Set<Equipment> equipment = new HashSet<>();

    @OneToMany(mappedBy = "craft", cascade = CascadeType.ALL)
    private List<Stay> stays = new ArrayList<>();

    /** For the mapper. */
    protected Craft() {}

    protected Craft(int id, String name, Harbour harbour, Owner owner) {
        this.id = id;
        this.name = name;
        this.harbour = harbour;
        this.owner = owner;
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

    public Owner getOwner() {
        return owner;
    }

    public Set<Equipment> getEquipment() {
        return equipment;
    }

    public List<Stay> getStays() {
        return stays;
    }

    /** {@return what kind it is, for people} */
    public abstract String getKind();
}
