package dev.vacancy.examples.spring.fleet;

import jakarta.persistence.CascadeType;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.OneToOne;

/** Whose craft it is. */
@Entity
public class Owner {
    @Id
    private int id;

    private String name;

    @OneToOne(cascade = CascadeType.ALL, orphanRemoval = true)
    private Address address;

    /** For the mapper. */
    protected Owner() {}

    public Owner(int id, String name, String town) {
        this.id = id;
        this.name = name;
        this.address = new Address(id, town);
    }

    public int getId() {
        return id;
    }

    public String getName() {
        return name;
    }

    public Address getAddress() {
        return address;
    }
}
