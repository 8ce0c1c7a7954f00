package dev.vacancy.examples.spring;

import dev.vacancy.JsonForm;
import dev.vacancy.Permissions;
import dev.vacancy.examples.spring.fleet.Craft;
import dev.vacancy.hibernate.Deletions;
import dev.vacancy.spring.CurrentActor;
import java.util.List;
import java.util.Map;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** Craft over HTTP. What is known by its id and what is loaded as an object go side by side. */
@RestController
@RequestMapping("/craft/{id}")
public class CraftController {
    private final CraftRepository craft;
    private final CurrentActor actor;
    private final Permissions permissions;

    CraftController(CraftRepository craft, CurrentActor actor, Permissions permissions) {
        this.craft = craft;
        this.actor = actor;
        this.permissions = permissions;
    }

    /** Nobody deletes what is another harbour's. */
    private Deletions<Craft, Integer> own() {
        return craft.actingFor(actor.by(), permissions);
    }

    @GetMapping("/deletion")
    Map<String, Object> preview(@PathVariable int id) {
        return JsonForm.of(own().plan(id, actor.by()));
    }

    /** The direct way: nothing is loaded. */
    @DeleteMapping
    List<Integer> delete(@PathVariable int id) {
        return own().delete(id, actor.by()).ids();
    }

    /** The way of objects: what the session has loaded is deleted, and gone from it. */
    @PostMapping("/scrapping")
    @Transactional
    public List<Integer> scrap(@PathVariable int id) {
        Craft scrapped = craft.findById(id).orElseThrow();
        return own().delete(own().selectEntity(scrapped), actor.by().because("scrapped"))
                .ids();
    }

    @PostMapping("/return")
    Map<String, Long> bringBack(@PathVariable int id) {
        return own().restoreId(id, actor.by()).counts();
    }
}
