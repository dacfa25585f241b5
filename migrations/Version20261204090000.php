<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Ypomna\App\Shared\Codes;

/** Items: what lies on the desk; captures that lay in dossiers become items there. Dossiers and tags are put in order by hand. */
final class Version20261204090000 extends Forward
{
    private const CODE = 'VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin';
    private const STATE = 'CHAR(12) CHARACTER SET ascii COLLATE ascii_bin';
    private const RANK = 'VARCHAR(160) CHARACTER SET ascii COLLATE ascii_bin';
    /** Numbers from the outermost one to this one, eight signs each, so that all below one is one range. */
    private const PATH = 'VARCHAR(900) CHARACTER SET ascii COLLATE ascii_bin';

    public function up(Schema $schema): void
    {
        $code = self::CODE;
        $state = self::STATE;
        $rank = self::RANK;
        $path = self::PATH;
        $this->addSql(<<<SQL
            CREATE TABLE item (
                id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT,
                code {$code} NOT NULL,
                kind VARCHAR(9) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                title VARCHAR(1000) NOT NULL,
                summary TEXT NOT NULL,
                note MEDIUMTEXT NOT NULL,
                capture_code {$code} DEFAULT NULL,
                url TEXT DEFAULT NULL,
                sha256 CHAR(64) CHARACTER SET ascii COLLATE ascii_bin DEFAULT NULL,
                fields LONGTEXT NOT NULL,
                due DATE DEFAULT NULL,
                due_on DATE AS (COALESCE(due, '9999-12-31')) STORED,
                titled VARCHAR(100) AS (LEFT(title, 100)) STORED,
                due_for VARCHAR(9) CHARACTER SET ascii COLLATE ascii_bin DEFAULT NULL,
                important TINYINT(1) NOT NULL DEFAULT 0,
                confidential TINYINT(1) NOT NULL DEFAULT 0,
                sorted TINYINT(1) NOT NULL DEFAULT 0,
                parent_id BIGINT UNSIGNED DEFAULT NULL,
                path {$path} NOT NULL DEFAULT '',
                place {$rank} NOT NULL,
                limited TINYINT(1) NOT NULL DEFAULT 1,
                state {$state} NOT NULL,
                came_by VARCHAR(24) CHARACTER SET ascii COLLATE ascii_bin DEFAULT NULL,
                created_by VARCHAR(100) COLLATE utf8mb4_bin NOT NULL,
                created_at DATETIME(6) NOT NULL,
                changed_at DATETIME(6) NOT NULL,
                deleted_at DATETIME(6) DEFAULT NULL,
                PRIMARY KEY (id),
                UNIQUE KEY item_code (code),
                UNIQUE KEY item_came_by (came_by),
                KEY item_waits (created_by, sorted, deleted_at, id),
                KEY item_unsorted (sorted, deleted_at, id),
                KEY item_parent (parent_id, place, id),
                KEY item_path (path),
                KEY item_capture (capture_code, id),
                KEY item_title (titled, id),
                KEY item_due (due_on, id),
                KEY item_due_of (created_by, due_on, id),
                KEY item_deleted (deleted_at),
                CONSTRAINT item_parent_of FOREIGN KEY (parent_id) REFERENCES item (id)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<SQL
            CREATE TABLE item_dossier (
                dossier_id BIGINT UNSIGNED NOT NULL,
                item_id BIGINT UNSIGNED NOT NULL,
                place {$rank} NOT NULL,
                person VARCHAR(100) COLLATE utf8mb4_bin NOT NULL,
                laid_at DATETIME(6) NOT NULL,
                PRIMARY KEY (dossier_id, item_id),
                KEY item_dossier_place (dossier_id, place, item_id),
                KEY item_dossier_of (item_id),
                CONSTRAINT item_dossier_dossier FOREIGN KEY (dossier_id) REFERENCES dossier (id),
                CONSTRAINT item_dossier_item FOREIGN KEY (item_id) REFERENCES item (id)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<SQL
            CREATE TABLE item_tag (
                item_id BIGINT UNSIGNED NOT NULL,
                tag_id BIGINT UNSIGNED NOT NULL,
                PRIMARY KEY (item_id, tag_id),
                KEY item_tag_of (tag_id, item_id),
                CONSTRAINT item_tag_item FOREIGN KEY (item_id) REFERENCES item (id)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<SQL
            CREATE TABLE item_todo (
                item_id BIGINT UNSIGNED NOT NULL,
                line INT UNSIGNED NOT NULL,
                text VARCHAR(2000) NOT NULL,
                done TINYINT(1) NOT NULL,
                PRIMARY KEY (item_id, line),
                KEY item_todo_open (done, item_id, line),
                CONSTRAINT item_todo_item FOREIGN KEY (item_id) REFERENCES item (id)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<SQL
            CREATE TABLE item_link (
                id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT,
                code {$code} NOT NULL,
                from_id BIGINT UNSIGNED NOT NULL,
                to_id BIGINT UNSIGNED DEFAULT NULL,
                to_capture {$code} DEFAULT NULL,
                to_address {$code} DEFAULT NULL,
                passage TEXT DEFAULT NULL,
                remark TEXT DEFAULT NULL,
                created_by VARCHAR(100) COLLATE utf8mb4_bin NOT NULL,
                created_at DATETIME(6) NOT NULL,
                deleted_at DATETIME(6) DEFAULT NULL,
                PRIMARY KEY (id),
                UNIQUE KEY item_link_code (code),
                KEY item_link_from (from_id, id),
                KEY item_link_to (to_id, id),
                KEY item_link_capture (to_capture, id),
                KEY item_link_address (to_address, id),
                CONSTRAINT item_link_item FOREIGN KEY (from_id) REFERENCES item (id),
                CONSTRAINT item_link_other FOREIGN KEY (to_id) REFERENCES item (id)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<SQL
            CREATE TABLE undo_step (
                code {$code} NOT NULL,
                person VARCHAR(100) COLLATE utf8mb4_bin NOT NULL,
                made_at DATETIME(6) NOT NULL,
                items MEDIUMTEXT NOT NULL,
                PRIMARY KEY (code),
                KEY undo_step_of (person, made_at),
                KEY undo_step_made (made_at)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<SQL
            ALTER TABLE dossier ADD path {$path} NOT NULL DEFAULT '', ADD place {$rank} NOT NULL DEFAULT 'i0000000',
                ADD fields LONGTEXT DEFAULT NULL, ADD template {$code} DEFAULT NULL,
                ADD KEY dossier_path (path), ADD KEY dossier_place (parent_id, place, id),
                ADD KEY dossier_changed (deleted_at, changed_at, id)
            SQL);
        $this->addSql(<<<'SQL'
            UPDATE dossier d JOIN (
                WITH RECURSIVE tree AS (
                    SELECT id, CAST(LPAD(LOWER(CONV(id, 10, 36)), 8, '0') AS CHAR(900)) AS path FROM dossier WHERE parent_id IS NULL
                    UNION ALL
                    SELECT c.id, CONCAT(t.path, LPAD(LOWER(CONV(c.id, 10, 36)), 8, '0')) FROM dossier c JOIN tree t ON c.parent_id = t.id
                ) SELECT id, path FROM tree
            ) p ON p.id = d.id SET d.path = p.path
            SQL);
        $this->addSql("UPDATE dossier SET place = CONCAT('i', LPAD(LOWER(CONV(id, 10, 36)), 7, '0'))");
        $this->addSql("ALTER TABLE tag ADD kind VARCHAR(6) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT 'own',"
            ." ADD parent_id BIGINT UNSIGNED DEFAULT NULL, ADD state {$state} NOT NULL DEFAULT '', ADD KEY tag_parent (parent_id)");
        $this->addSql('ALTER TABLE capture_job ADD brought TINYINT(1) NOT NULL DEFAULT 0');
        $this->carryOver();
    }

    /** A capture is one item, in as many dossiers as it lay in, with what was written beside it. */
    private function carryOver(): void
    {
        $held = $this->connection->iterateAssociative(<<<'SQL'
            SELECT capture_code, MIN(laid_at) AS laid_at,
                SUBSTRING_INDEX(GROUP_CONCAT(person ORDER BY laid_at SEPARATOR '\n'), '\n', 1) AS person
            FROM dossier_capture GROUP BY capture_code
            SQL);
        foreach ($held as $row) {
            $this->addSql(<<<'SQL'
                INSERT INTO item (
                    code, kind, title, summary, note, capture_code, fields, sorted, place, state, created_by, created_at, changed_at
                ) VALUES (?, 'capture', '', '', '', ?, '{}', 1, 'i0000000', ?, ?, ?, ?)
                SQL, [Codes::random(), $row['capture_code'], Codes::random(), $row['person'], $row['laid_at'], $row['laid_at']]);
        }
        foreach ([
            "UPDATE item SET path = LPAD(LOWER(CONV(id, 10, 36)), 8, '0')",
            <<<'SQL'
                UPDATE item i LEFT JOIN capture c ON c.code = i.capture_code
                    LEFT JOIN capture_description w ON w.capture_code = i.capture_code
                SET i.title = LEFT(COALESCE(NULLIF(w.title, ''), NULLIF(c.title, ''), c.url, ''), 1000), i.summary = COALESCE(w.why, '')
                SQL,
            <<<'SQL'
                INSERT INTO item_tag SELECT i.id, g.tag_id FROM item i JOIN capture_description w ON w.capture_code = i.capture_code
                    JOIN capture_description_tag g ON g.description_id = w.id
                SQL,
            <<<'SQL'
                INSERT INTO item_dossier
                SELECT h.dossier_id, i.id, CONCAT('i', LPAD(LOWER(CONV(i.id, 10, 36)), 7, '0')), h.person, h.laid_at
                FROM dossier_capture h JOIN item i ON i.capture_code = h.capture_code
                SQL,
            <<<'SQL'
                INSERT INTO access_grant (thing, ground, holder, part)
                SELECT i.code, 'held', d.code, '' FROM item_dossier h JOIN item i ON i.id = h.item_id JOIN dossier d ON d.id = h.dossier_id
                SQL,
            <<<'SQL'
                UPDATE item i SET i.limited = 0 WHERE EXISTS (
                    SELECT 1 FROM item_dossier h JOIN dossier d ON d.id = h.dossier_id
                    WHERE h.item_id = i.id AND d.limited = 0 AND d.deleted_at IS NULL
                )
                SQL,
            <<<'SQL'
                UPDATE item i JOIN (
                    SELECT h.item_id, MIN(d.deleted_at) AS at FROM item_dossier h JOIN dossier d ON d.id = h.dossier_id
                    GROUP BY h.item_id HAVING SUM(d.deleted_at IS NULL) = 0
                ) g ON g.item_id = i.id SET i.deleted_at = g.at
                SQL,
            'DROP TABLE dossier_capture',
        ] as $statement) {
            $this->addSql($statement);
        }
    }
}
