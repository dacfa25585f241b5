<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Bundle\FrameworkBundle\Console\Application;
use Symfony\Component\Console\Input\ArrayInput;
use Symfony\Component\Console\Output\BufferedOutput;
use Symfony\Component\Console\Tester\CommandTester;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Exchange\CatalogueRebuilder;
use Ypomna\App\Exchange\RebuildRefused;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Settings;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Store\MirroredLedger;
use Ypomna\App\Store\Store;
use Ypomna\App\Ui\Console\DemoLoadCommand;
use Ypomna\Core\Fixity\LedgerLine;
use Ypomna\Core\Warc\WarcReader;
use Ypomna\Migrations\Forward;
use Ypomna\Tests\Support\WarcBuilder;

/** Holdings survive careless commands: what would destroy them refuses, or does so only when it knows that all can be had again. */
final class HoldingsTest extends AppTestCase
{
    protected function setUp(): void
    {
        parent::setUp();
        $this->takeIn(
            (new WarcBuilder('1'))->exchange('http://lantern.test/a', '2024-01-01T00:00:00Z', '<p>a')->exchange(
                'http://lantern.test/b', '2024-01-01T00:00:00Z', str_repeat('b', 300),
            ),
            'one.warc.gz',
        );
        $this->takeIn((new WarcBuilder('2'))->exchange('http://lantern.test/c', '2024-01-02T00:00:00Z', '<p>c'), 'two.warc.gz');
    }

    public function testTheCatalogueIsMadeAnewFromFilesAndLedger(): void
    {
        $this->takeIn(
            (new WarcBuilder('3'))->exchange('http://lantern.test/a', '2024-02-01T00:00:00Z', '<p>a, later')->revisit(
                'http://lantern.test/c', '2024-02-01T00:00:00Z', ['WARC-Payload-Digest' => 'sha256:'.hash('sha256', '<p>c')],
            ),
            'three.warc.gz',
        );
        self::service(MirroredLedger::class)->catchUp();
        $before = $this->dump();
        $database = self::service(Connection::class);
        $database->executeStatement("UPDATE capture SET title = 'forged', changed = 1");
        $database->executeStatement('DELETE FROM record');
        self::assertSame(3, $this->rebuild());
        self::assertSame($before, $this->dump());
        self::assertSame(3, $this->rebuild());
        self::assertSame($before, $this->dump(), 'Made anew twice, it is the same.');

        $file = $this->file('http://lantern.test/c');
        unlink($file);
        try {
            $this->rebuild();
            self::fail('A file is missing.');
        } catch (RebuildRefused $e) {
            self::assertSame([$this->relative($file)], $e->what);
            self::assertSame($before, $this->dump(), 'Nothing was touched.');
        }
        $missing = [];
        self::assertSame(
            2,
            self::service(CatalogueRebuilder::class)->run(
                static function (string $path, ?string $problem) use (&$missing): void {
                    $missing = null === $problem ? $missing : [...$missing, $path];
                },
                true,
            ),
        );
        self::assertCount(1, $missing);
    }

    /** @return array<string, array{\Closure(string): mixed}> */
    public static function ledgersThatAreNotWhole(): array
    {
        return [
            'gone' => [static fn (string $file) => unlink($file)],
            'empty' => [static fn (string $file) => file_put_contents($file, '')],
            'cut off' => [static fn (string $file) => file_put_contents($file, strstr((string) file_get_contents($file), "\n", true)."\n")],
            'altered' => [static fn (string $file) => file_put_contents(
                $file, str_replace('one.warc.gz', 'two.warc.gz', (string) file_get_contents($file)),
            )],
        ];
    }

    /** @param \Closure(string): mixed $harm */
    #[DataProvider('ledgersThatAreNotWhole')]
    public function testNothingIsMadeAnewFromALedgerThatIsNotWhole(\Closure $harm): void
    {
        self::service(MirroredLedger::class)->catchUp();
        $before = $this->dump();
        $harm(Settings::dataFolder().'/ledger/ledger.txt');
        try {
            $this->rebuild();
            self::fail('The ledger is not whole.');
        } catch (RebuildRefused $e) {
            self::assertNotSame([], $e->what);
        }
        self::assertSame($before, $this->dump(), 'Catalogue and mirror are as they were.');
    }

    public function testALostLedgerIsNotBegunAgainButWrittenFromItsMirror(): void
    {
        $book = self::service(MirroredLedger::class);
        $book->catchUp();
        $file = Settings::dataFolder().'/ledger/ledger.txt';
        $whole = (string) file_get_contents($file);
        foreach (['', strstr($whole, "\n", true)."\n"] as $left) {
            file_put_contents($file, $left);
            try {
                $book->enter('file.accession', 'x', []);
                self::fail('A second chain was begun.');
            } catch (\RuntimeException $e) {
                self::assertStringContainsString('ledger:restore', $e->getMessage());
            }
            self::assertSame($left, file_get_contents($file));
            self::assertSame(substr_count($whole, "\n") - substr_count($left, "\n"), $book->restore());
            self::assertSame($whole, file_get_contents($file));
        }
        file_put_contents($file, str_replace('one.warc.gz', 'two.warc.gz', $whole));
        $this->expectExceptionMessage('altered');
        $book->restore();
    }

    public function testCodesAreRandomAndStandInTheLedger(): void
    {
        $capture = $this->captureOf('http://lantern.test/a');
        $ledger = (string) file_get_contents(Settings::dataFolder().'/ledger/ledger.txt');
        foreach ([$capture->code, $capture->address->code] as $code) {
            self::assertStringContainsString('"'.$code.'"', $ledger);
        }
        $id = self::service(Connection::class)->fetchOne(
            'SELECT COUNT(*) FROM capture WHERE code = ?', [Codes::of('capture urn:uuid:00000000-0000-4000-8000-000000000001')],
        );
        self::assertEquals(0, $id);
        self::assertNotSame(Codes::of('address '.AddressKeys::keyOf('http://lantern.test/a')), $capture->address->code);
    }

    public function testCodesThatWereGivenOutAsDigestsKeepWorking(): void
    {
        // The ledger as it was before codes stood in it.
        $lines = array_filter(
            explode("\n", (string) file_get_contents(Settings::dataFolder().'/ledger/ledger.txt')),
            static fn (string $line): bool => str_contains($line, 'file.taken-in'),
        );
        unlink(Settings::dataFolder().'/ledger/ledger.txt');
        self::service(Connection::class)->executeStatement('DELETE FROM ledger_line');
        foreach ($lines as $line) {
            $was = LedgerLine::parse($line);
            self::assertNotNull($was);
            self::service(MirroredLedger::class)->enter($was->kind, $was->subject, $was->details);
        }
        $this->rebuild();
        $old = $this->captureOf('http://lantern.test/a');
        $record = WarcReader::at(self::service(Store::class)->local($old->warcFile->path), $old->responseOffset)->header->id();
        self::assertSame(Codes::of('capture '.$record), $old->code);
        self::assertSame(Codes::of('address '.AddressKeys::keyOf('http://lantern.test/a')), $old->address->code);

        // What comes later has codes of its own, and the old ones stay when it is made anew once more.
        $this->takeIn(
            (new WarcBuilder('9'))->exchange(
                'http://lantern.test/a', '2024-03-01T00:00:00Z', '<p>a, later',
            )->exchange('http://lantern.test/new', '2024-03-01T00:00:00Z', '<p>new'),
            'nine.warc.gz',
        );
        self::service(MirroredLedger::class)->catchUp();
        $before = $this->dump();
        $this->rebuild();
        self::assertSame($before, $this->dump());
        self::assertSame($old->code, $this->captureOf('http://lantern.test/a', '2024-01-01')->code);
    }

    public function testInventedPagesAreNotMixedWithRealOnes(): void
    {
        $command = new CommandTester(self::service(DemoLoadCommand::class));
        self::assertSame(1, $command->execute([]));
        self::assertStringContainsString('no demo', $command->getDisplay());
        self::assertNull(self::service(AddressRepository::class)->of(Viewer::system(), 'http://merrowline.test/'));
    }

    public function testCommandsThatDropTablesAreNotToBeHad(): void
    {
        $application = new Application(self::$kernel ?? self::bootKernel());
        $application->setAutoExit(false);
        foreach ([
            ['doctrine:schema:drop', '--force' => true, '--full-database' => true], ['doctrine:database:drop', '--force' => true],
        ] as $words) {
            $output = new BufferedOutput();
            self::assertNotSame(0, $application->run(new ArrayInput(['command' => array_shift($words)] + $words), $output));
            self::assertStringContainsString('not to be had', $output->fetch());
        }
        $database = self::service(Connection::class);
        self::assertEquals(2, $database->fetchOne('SELECT COUNT(*) FROM warc_file'));
        foreach ((array) glob(\dirname(__DIR__, 2).'/migrations/Version*.php') as $file) {
            $class = 'Ypomna\\Migrations\\'.basename((string) $file, '.php');
            self::assertTrue(is_subclass_of($class, Forward::class), $class.' could be undone.');
        }
    }

    private function rebuild(): int
    {
        return self::service(CatalogueRebuilder::class)->run(static function (): void {});
    }

    /**
     * @return array<string, list<array<string, mixed>>> every derived table, without the numbers of its rows
     */
    private function dump(): array
    {
        $database = self::service(Connection::class);
        $tables = [
            'address' => 'SELECT HEX(url_key), url, code, captures, first_at, last_at, last_alive_at FROM address ORDER BY url_key',
            'warc_file' => 'SELECT path, HEX(sha256), bytes, origin, given_name, stored_at, records FROM warc_file ORDER BY path',
            'capture' => 'SELECT a.code AS address, c.captured_at, c.code, c.url, f.path, c.response_offset, c.status, c.title, c.mime,'
                .' c.parts, c.bytes, HEX(c.payload_sha256), c.dom_offset, c.text_offset, c.redirect_to, c.agent, c.how, c.changed FROM'
                    .' capture c JOIN address a ON a.id = c.address_id JOIN warc_file f ON f.id = c.warc_file_id ORDER BY c.code',
            'record' => 'SELECT f.path, r.at_offset, r.role, HEX(r.url_hash), HEX(r.key_hash), r.captured_at, r.method, r.status,'
                .' r.mime, r.length, HEX(r.payload_sha256), r.url, HEX(r.record_id_hash), r.revisit FROM record r JOIN warc_file f ON'
                    .' f.id = r.warc_file_id ORDER BY f.path, r.at_offset',
            'ledger_line' => 'SELECT seq, HEX(hash), kind, subject, at, ends_at, line FROM ledger_line ORDER BY seq',
        ];

        return array_map($database->fetchAllAssociative(...), $tables);
    }

    private function file(string $url): string
    {
        return self::service(Store::class)->local($this->captureOf($url)->warcFile->path);
    }

    private function relative(string $path): string
    {
        return substr($path, \strlen(self::service(Store::class)->local('')));
    }
}
