<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\DriverManager;
use Doctrine\DBAL\Tools\DsnParser;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;
use Ypomna\App\Capture\Message\CapturePage;
use Ypomna\App\Shared\Queue\JsonMessages;
use Ypomna\App\Shared\Settings;

/**
 * A database of the version before the first release becomes what a new one is, and nothing in it is lost. It has a database of its
 * own beside that of the other tests.
 */
final class UpgradeTest extends TestCase
{
    /** The index of words is made by its engine, not by a migration. */
    private const NOT_THE_ENGINES = "table_name NOT IN ('search_index', 'search_tally', 'search_site', 'search_single')";

    private const RENAMED = [
        'slip' => 'capture_description', 'slip_tag' => 'capture_description_tag', 'last_look' => 'last_viewed',
        'live_look' => 'live_check',
    ];

    private string $dsn;
    private Connection $upgraded;

    protected function setUp(): void
    {
        $this->dsn = (string) preg_replace('~/ypomna_test\?~', '/ypomna_upgrade?', Settings::text('DATABASE_URL', ''));
        self::assertStringContainsString('/ypomna_upgrade?', $this->dsn);
        $this->upgraded = self::connect($this->dsn);
        // The copy has values of generated columns, too.
        $this->upgraded->executeStatement("SET FOREIGN_KEY_CHECKS = 0, sql_mode = ''");
        foreach ($this->upgraded->fetchFirstColumn('SHOW TABLES') as $table) {
            $this->upgraded->executeStatement('DROP TABLE `'.(\is_string($table) ? $table : '').'`');
        }
        foreach (explode(";\n", (string) file_get_contents(__DIR__.'/Upgrade/before-the-first-release.sql')) as $statement) {
            if ('' !== trim($statement)) {
                $this->upgraded->executeStatement($statement);
            }
        }
        $this->upgraded->executeStatement('SET FOREIGN_KEY_CHECKS = 1');
    }

    public function testADatabaseOfBeforeBecomesWhatANewOneIs(): void
    {
        $before = [];
        foreach ($this->counts() as $table => $count) {
            $before[self::RENAMED[$table] ?? $table] = $count;
        }
        ksort($before);
        $this->migrate();
        self::assertSame($this->form(self::connect(Settings::text('DATABASE_URL', ''))), $this->form($this->upgraded));
        // What came later begins empty.
        $new = array_fill_keys([
            'access_grant', 'always_tag', 'attachment', 'desk_act', 'dossier', 'dossier_person', 'dossier_view', 'event_reader',
            'favourite',
            'finding_aid',
            'first_answer', 'item',
            'item_dossier', 'item_link', 'item_tag', 'item_todo',
            'note_link', 'note_version', 'opened', 'page_host', 'page_word', 'pairing', 'person', 'person_link', 'person_log',
            'person_recovery',
            'person_session', 'person_token', 'reading_right', 'reminder', 'search_question', 'search_reading', 'search_shown',
            'search_stand',
            'search_text', 'search_word',
            'undo_step',
        ], 0) + ['page_word_reach' => 1];
        $expected = $before + $new;
        ksort($expected);
        self::assertSame(array_diff_key($expected, ['migration' => 0]), array_diff_key($this->counts(), ['migration' => 0]));
        $jobs = $this->upgraded->fetchAllAssociativeIndexed('SELECT SUBSTRING_INDEX(url, \'/\', -1), options, verdict FROM capture_job');
        $options = json_decode(\is_string($jobs['one']['options'] ?? null) ? $jobs['one']['options'] : '', true);
        self::assertEquals(
            ['scroll' => false, 'scripts' => false, 'phone' => true, 'fieldsEverywhere' => true, 'wait' => 4, 'language' => 'el'], $options,
        );
        self::assertSame(['options' => null, 'verdict' => 'gaps'], $jobs['two'] ?? null);
        // Once more there is nothing to do.
        $this->migrate();
        self::assertSame(\count((array) glob(\dirname(__DIR__, 2).'/migrations/Version*.php')), $this->counts()['migration']);
    }

    public function testWhatWaitedInTheQueueIsStillDone(): void
    {
        $this->migrate();
        $serializer = new JsonMessages();
        $messages = array_map(
            static fn (mixed $body): object => $serializer->decode(['body' => \is_string($body) ? $body : ''])->getMessage(),
            $this->upgraded->fetchFirstColumn('SELECT body FROM queue_message ORDER BY id'),
        );
        self::assertSame(
            ['CheckQueuedAddresses', 'MatchReferences', 'CapturePage', 'CapturePage', 'WorkOnCrawl', 'WorkOnCrawl', 'ImportFile'],
            array_map(static fn (object $message): string => (new \ReflectionClass($message))->getShortName(), $messages),
        );
        self::assertEquals(new CapturePage(2), $messages[3]);
    }

    public function testAnOlderDatabaseIsNotTouched(): void
    {
        $this->upgraded->executeStatement("DELETE FROM migration WHERE version LIKE '%Version20261130010000'");
        $form = $this->form($this->upgraded);
        $process = $this->start();
        self::assertNotSame(0, $process->run());
        self::assertStringContainsString('older version', $process->getOutput().$process->getErrorOutput());
        self::assertSame($form, $this->form($this->upgraded));
    }

    public function testWhatLayInDossiersBecomesItemsWithWhatWasWrittenBeside(): void
    {
        $this->migrate('Version20261203090000');
        $at = '2026-11-30 08:00:00.000000';
        $dossier = fn (string $code, bool $limited, ?string $deleted = null): string => $this->insert('dossier', [
            'code' => $code, 'name' => $code, 'note' => '', 'limited' => (int) $limited, 'made_by' => 'Ilse Varga', 'made_at' => $at,
            'changed_at' => $at, 'deleted_at' => $deleted,
        ]);
        $gone = '2026-11-30 10:00:00.000000';
        [$open, $closed, $deleted] = [$dossier('open22222222', false), $dossier('shut22222222', true),
            $dossier('gone22222222', true, $gone)];
        foreach ([[$open, 'wk435ppz4gta', 'Tomas Okoye', '09'], [$closed, 'wk435ppz4gta', 'Ilse Varga', '08'],
            [$deleted, 'zvr9sr8dna3a', 'Ilse Varga', '08']] as [$in, $capture, $person, $hour]) {
            $this->insert('dossier_capture', [
                'dossier_id' => $in, 'capture_code' => $capture, 'person' => $person, 'laid_at' => "2026-11-30 {$hour}:00:00.000000",
            ]);
        }
        $description = $this->insert('capture_description', [
            'capture_code' => 'wk435ppz4gta', 'title' => 'The sheet of the seal', 'why' => 'It names three years', 'person' => 'Ilse Varga',
            'written_at' => $at,
        ]);
        $tag = $this->insert('tag', ['name' => 'maker', 'last_at' => $at]);
        $this->insert('capture_description_tag', ['description_id' => $description, 'tag_id' => $tag]);
        $this->migrate();
        $items = $this->upgraded->fetchAllAssociativeIndexed(
            'SELECT capture_code, id, code, kind, title, summary, sorted, created_by, limited, deleted_at, path FROM item',
        );
        self::assertCount(2, $items);
        $sheet = $items['wk435ppz4gta'] ?? [];
        self::assertSame(
            ['capture', 'The sheet of the seal', 'It names three years', 1, 'Ilse Varga', 0, null],
            array_map(static fn (string $name): mixed => $sheet[$name] ?? null,
                ['kind', 'title', 'summary', 'sorted', 'created_by', 'limited', 'deleted_at']),
        );
        self::assertSame(\sprintf('%08s', base_convert((string) (\is_int($sheet['id'] ?? null) ? $sheet['id'] : 0), 10, 36)),
            $sheet['path']);
        self::assertSame(['corvane-marine.test', $gone],
            [$items['zvr9sr8dna3a']['title'] ?? null, $items['zvr9sr8dna3a']['deleted_at'] ?? null]);
        self::assertSame(
            [['open22222222', 'Tomas Okoye'], ['shut22222222', 'Ilse Varga']],
            $this->upgraded->fetchAllNumeric(
                'SELECT d.code, h.person FROM item_dossier h JOIN dossier d ON d.id = h.dossier_id WHERE h.item_id = ? ORDER BY d.code',
                [$sheet['id'] ?? 0],
            ),
        );
        self::assertSame([$tag], array_map(static fn (mixed $id): string => \is_int($id) || \is_string($id) ? (string) $id : '',
            $this->upgraded->fetchFirstColumn('SELECT tag_id FROM item_tag')));
        self::assertSame(['open22222222', 'shut22222222'], $this->upgraded->fetchFirstColumn(
            "SELECT holder FROM access_grant WHERE thing = ? AND ground = 'held' ORDER BY holder", [$sheet['code'] ?? ''],
        ));
    }

    /** @param array<string, int|string|null> $row */
    private function insert(string $table, array $row): string
    {
        $this->upgraded->insert($table, $row);

        $id = $this->upgraded->fetchOne('SELECT LAST_INSERT_ID()');

        return is_numeric($id) ? (string) $id : '';
    }

    private function migrate(?string $to = null): void
    {
        $process = $this->start($to);
        $process->mustRun();
    }

    private function start(?string $to = null): Process
    {
        $environment = ['DATABASE_URL' => $this->dsn, 'YPOMNA_DATA' => Settings::dataFolder(), 'APP_ENV' => 'test', 'APP_SECRET' => 'test'];

        return new Process(
            [\PHP_BINARY, Settings::program().'/bin/ypomna', 'doctrine:migrations:migrate', '-n', '--allow-no-migration',
                ...null === $to ? [] : ['Ypomna\\Migrations\\'.$to]],
            null,
            $environment,
            null,
            120,
        );
    }

    /** @return array<string, int> rows by table */
    private function counts(): array
    {
        $counts = [];
        foreach ($this->upgraded->fetchFirstColumn('SHOW TABLES') as $table) {
            $count = $this->upgraded->fetchOne('SELECT COUNT(*) FROM `'.(\is_string($table) ? $table : '').'`');
            $counts[\is_string($table) ? $table : ''] = is_numeric($count) ? (int) $count : -1;
        }
        ksort($counts);

        return $counts;
    }

    /**
     * Tables, columns, keys and references, whatever the order of the columns.
     *
     * @return list<array<string, mixed>>
     */
    private function form(Connection $database): array
    {
        return [
            ...$database->fetchAllAssociative(
                'SELECT table_name, engine, table_collation FROM information_schema.tables WHERE table_schema = DATABASE()'
                    .' AND '.self::NOT_THE_ENGINES.' ORDER BY 1',
            ),
            ...$database->fetchAllAssociative(
                'SELECT table_name, column_name, column_default, is_nullable, column_type, collation_name, extra FROM'
                    .' information_schema.columns WHERE table_schema = DATABASE() AND '.self::NOT_THE_ENGINES.' ORDER BY 1, 2',
            ),
            ...$database->fetchAllAssociative(
                'SELECT table_name, index_name, seq_in_index, column_name, non_unique, index_type, sub_part FROM'
                    .' information_schema.statistics WHERE table_schema = DATABASE() AND '.self::NOT_THE_ENGINES.' ORDER BY 1, 2, 3',
            ),
            ...$database->fetchAllAssociative(
                'SELECT table_name, constraint_name, referenced_table_name, delete_rule FROM information_schema.referential_constraints'
                    .' WHERE constraint_schema = DATABASE() ORDER BY 1, 2',
            ),
        ];
    }

    private static function connect(string $dsn): Connection
    {
        return DriverManager::getConnection((new DsnParser(['mysql' => 'pdo_mysql']))->parse($dsn));
    }
}
