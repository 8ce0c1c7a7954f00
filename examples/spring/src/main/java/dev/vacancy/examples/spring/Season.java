package dev.vacancy.examples.spring;

import dev.vacancy.examples.spring.fleet.Berth;
import dev.vacancy.examples.spring.fleet.Craft;
import dev.vacancy.examples.spring.fleet.Equipment;
import dev.vacancy.examples.spring.fleet.Harbour;
import dev.vacancy.examples.spring.fleet.Launch;
import dev.vacancy.examples.spring.fleet.Owner;
import dev.vacancy.examples.spring.fleet.Pier;
import dev.vacancy.examples.spring.fleet.Sailboat;
import dev.vacancy.examples.spring.fleet.Stay;
import jakarta.persistence.EntityManager;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;
import org.springframework.boot.ApplicationArguments;
import org.springframework.boot.ApplicationRunner;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Fills an empty database with what there is to look at. */
@Component
public class Season implements ApplicationRunner {
    private final EntityManager entities;

    Season(EntityManager entities) {
        this.entities = entities;
    }

    @Override
    @Transactional
    public void run(ApplicationArguments arguments) {
        if (entities.find(Harbour.class, 1) != null) {
            return;
        }
        Harbour skerrow = new Harbour(1, "Skerrow");
        Harbour tarnholm = new Harbour(2, "Tarnholm");
        Harbour drumlish = new Harbour(3, "Drumlish");
        Pier north = new Pier(1, "North pier", skerrow);
        Pier south = new Pier(2, "South pier", skerrow);
        Pier mole = new Pier(3, "The mole", tarnholm);
        new Pier(4, "Old pier", drumlish);
        north.getLamps().addAll(List.of("red", "white"));
        Berth first = new Berth(1, 14, north);
        Berth second = new Berth(2, 14, north);
        Berth third = new Berth(3, 8, north);
        Berth fourth = new Berth(4, 10, south);
        Berth fifth = new Berth(5, 12, mole);
        List.of(skerrow, tarnholm, drumlish).forEach(entities::persist);

        Equipment dinghy = new Equipment("dinghy");
        Equipment radio = new Equipment("radio");
        List.of(dinghy, radio).forEach(entities::persist);
        Owner ida = new Owner(1, "Ida Garrick", "Skerrow");
        Owner wat = new Owner(2, "Wat Imrie", "Tarnholm");
        Craft heron = new Sailboat(1, "Heron", skerrow, ida, 12.5);
        Craft otter = new Launch(2, "Otter", skerrow, ida, 40);
        Craft petrel = new Sailboat(3, "Petrel", skerrow, wat, 9);
        Craft gannet = new Launch(4, "Gannet", tarnholm, wat, 75);
        heron.getEquipment().addAll(List.of(dinghy, radio));
        petrel.getEquipment().add(radio);
        LocalDate today = LocalDate.now(ZoneId.systemDefault());
        new Stay(heron, first, today.minusDays(20), today.minusDays(6), today.minusDays(6));
        new Stay(heron, second, today.minusDays(5), today.minusDays(1), today.minusDays(1));
        new Stay(otter, third, today.minusDays(40), today.minusDays(30), null);
        new Stay(petrel, fourth, today.minusDays(3), today.plusDays(4), today.minusDays(3));
        new Stay(gannet, fifth, today.minusYears(4), today.minusYears(4).plusDays(2), today.minusYears(4));
        List.of(heron, otter, petrel, gannet).forEach(entities::persist);
    }
}
