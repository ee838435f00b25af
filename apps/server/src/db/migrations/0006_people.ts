import type { Knex } from 'knex';

/**
 * Circles that hold people and people who are in several; favourites, hidden ones, those never to be recognised; what
 * speaks for each guess; faces that are different people; how sure a library must be.
 */
const STEPS = [
  `CREATE TABLE circles (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    name VARCHAR(160) NOT NULL,
    position SMALLINT UNSIGNED NOT NULL DEFAULT 0,
    UNIQUE (library_id, name),
    FOREIGN KEY (library_id) REFERENCES libraries(id)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  `CREATE TABLE circle_people (
    library_id INT UNSIGNED NOT NULL,
    circle_id INT UNSIGNED NOT NULL,
    person_id INT UNSIGNED NOT NULL,
    PRIMARY KEY (circle_id, person_id),
    INDEX (person_id),
    FOREIGN KEY (library_id) REFERENCES libraries(id),
    FOREIGN KEY (circle_id) REFERENCES circles(id) ON DELETE CASCADE,
    FOREIGN KEY (person_id) REFERENCES people(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  `INSERT INTO circles (library_id, name, position)
    SELECT library_id, circle, ROW_NUMBER() OVER (PARTITION BY library_id ORDER BY MIN(id)) - 1
    FROM people WHERE circle IS NOT NULL GROUP BY library_id, circle`,
  `INSERT INTO circle_people (library_id, circle_id, person_id)
    SELECT p.library_id, c.id, p.id FROM people p JOIN circles c ON c.library_id = p.library_id AND c.name = p.circle`,
  // Portraits were chosen by the machine so far; from now on a portrait in this column is one somebody chose.
  `UPDATE people SET portrait_face_id = NULL`,
  `ALTER TABLE people
    DROP COLUMN circle,
    ADD favourite BOOLEAN NOT NULL DEFAULT FALSE,
    ADD hidden BOOLEAN NOT NULL DEFAULT FALSE,
    ADD recognised BOOLEAN NOT NULL DEFAULT TRUE`,
  `ALTER TABLE libraries
    ADD ask_from FLOAT NOT NULL DEFAULT 0.3,
    ADD file_from FLOAT NOT NULL DEFAULT 0.95`,
  `ALTER TABLE faces
    ADD clothes VARBINARY(64) NULL AFTER vector_b,
    ADD drawn BOOLEAN NOT NULL DEFAULT FALSE,
    DROP COLUMN likely_support,
    DROP COLUMN likely_score`,
  // Pictures in which faces are still to be looked for: they came in, or were cleared of them, while that was off.
  `ALTER TABLE pictures
    ADD faces_sought BOOLEAN NOT NULL DEFAULT TRUE,
    ADD INDEX to_seek (library_id, faces_sought)`,
  `CREATE TABLE face_offers (
    library_id INT UNSIGNED NOT NULL,
    face_id INT UNSIGNED NOT NULL,
    nth TINYINT UNSIGNED NOT NULL,
    person_id INT UNSIGNED NOT NULL,
    certainty FLOAT NOT NULL,
    may_file BOOLEAN NOT NULL,
    support SMALLINT UNSIGNED NOT NULL,
    like_from DATE NULL,
    like_to DATE NULL,
    rival_id INT UNSIGNED NULL,
    beside_id INT UNSIGNED NULL,
    minutes SMALLINT NULL,
    same_clothes BOOLEAN NOT NULL,
    is_there BOOLEAN NOT NULL,
    other_age BOOLEAN NOT NULL,
    PRIMARY KEY (face_id, nth),
    INDEX by_person (library_id, person_id, nth, certainty),
    FOREIGN KEY (library_id) REFERENCES libraries(id),
    FOREIGN KEY (face_id) REFERENCES faces(id) ON DELETE CASCADE,
    FOREIGN KEY (person_id) REFERENCES people(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  `CREATE TABLE face_apart (
    library_id INT UNSIGNED NOT NULL,
    face_id INT UNSIGNED NOT NULL,
    other_id INT UNSIGNED NOT NULL,
    PRIMARY KEY (face_id, other_id),
    FOREIGN KEY (library_id) REFERENCES libraries(id),
    FOREIGN KEY (face_id) REFERENCES faces(id) ON DELETE CASCADE,
    FOREIGN KEY (other_id) REFERENCES faces(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  `CREATE TABLE look_alikes (
    library_id INT UNSIGNED NOT NULL,
    person_id INT UNSIGNED NOT NULL,
    other_id INT UNSIGNED NOT NULL,
    PRIMARY KEY (person_id, other_id),
    FOREIGN KEY (library_id) REFERENCES libraries(id),
    FOREIGN KEY (person_id) REFERENCES people(id) ON DELETE CASCADE,
    FOREIGN KEY (other_id) REFERENCES people(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
];

export async function up(knex: Knex): Promise<void> {
  for (const step of STEPS) await knex.raw(step);
}
