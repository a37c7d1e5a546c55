package calmstep.service.people;

import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface Persons extends JpaRepository<Person, Long> {
    Optional<Person> findByName(String name);
}
