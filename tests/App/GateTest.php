<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use PHPUnit\Framework\Attributes\DataProvider;
use Ypomna\App\Catalogue\AddressHistory;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\CaptureLimits;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\HeldAddresses;
use Ypomna\App\Catalogue\HistorySummaries;
use Ypomna\App\Catalogue\HoldingsTotals;
use Ypomna\App\Catalogue\JoinedAddresses;
use Ypomna\App\Catalogue\Originals;
use Ypomna\App\Catalogue\RecordFinder;
use Ypomna\App\Catalogue\WordSearch;
use Ypomna\App\Desk\Dossiers;
use Ypomna\App\Desk\Value\DossierChange;
use Ypomna\App\Desk\Value\Opening;
use Ypomna\App\Desk\Value\Part;
use Ypomna\App\Exchange\CatalogueRebuilder;
use Ypomna\App\Exchange\Importer;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;
use Ypomna\Tests\Support\WarcBuilder;

/** Who sees a capture that is for some only, and how the holdings look to everybody else. */
final class GateTest extends AppTestCase
{
    private const PAGE = 'http://lantern.test/stern-door';
    private const SECRET = 'http://lantern.test/quiet/witness';

    private Viewer $maker;
    private Viewer $other;
    private Actor $actor;

    protected function setUp(): void
    {
        parent::setUp();
        foreach (['Ilse Varga' => Role::Keeper, 'Nerys Quill' => Role::Reader, 'Bram Hollis' => Role::Administrator] as $name => $role) {
            $this->person($name, $role);
        }
        $this->actor = new Actor('Ilse Varga');
        $this->maker = Viewer::person('Ilse Varga', Role::Keeper);
        $this->other = Viewer::person('Nerys Quill', Role::Reader);
    }

    /** @return iterable<string, array{Viewer, bool}> */
    public static function viewers(): iterable
    {
        yield 'who made it' => [Viewer::person('Ilse Varga', Role::Keeper), true];
        yield 'a custodian' => [Viewer::person('Tomas Okoye', Role::Custodian), true];
        yield 'the system' => [Viewer::system(), true];
        yield 'an administrator' => [Viewer::person('Bram Hollis', Role::Administrator), false];
        yield 'another keeper' => [Viewer::person('Someone Else', Role::Keeper), false];
        yield 'a reader' => [Viewer::person('Nerys Quill', Role::Reader), false];
        yield 'a name that is nearly theirs' => [Viewer::person('ilse varga', Role::Keeper), false];
        yield 'a name that would end a text' => [Viewer::person("' OR 1 = 1 -- ", Role::Reader), false];
        yield 'a name of signs' => [Viewer::person('%', Role::Reader), false];
        yield 'an empty name' => [Viewer::person('', Role::Reader), false];
        yield 'nobody' => [Viewer::nobody(), false];
    }

    #[DataProvider('viewers')]
    public function testAConfidentialCaptureIsThereForSomeOnly(Viewer $viewer, bool $sees): void
    {
        $this->open(self::PAGE, '2024-11-03T10:00:00Z', '<title>Stern door</title><p>Checked.');
        $secret = $this->confidential(self::SECRET, '2024-11-04T10:00:00Z', '<title>Witness</title><p>Unsaid.');
        $captures = self::service(CaptureRepository::class);
        $addresses = self::service(AddressRepository::class);
        self::assertSame($sees, null !== $captures->byCode($viewer, $secret->code));
        self::assertSame($sees, null !== $captures->nearest($viewer, self::SECRET, new \DateTimeImmutable()));
        self::assertSame($sees, [] !== $captures->byIds($viewer, [(int) $secret->id]));
        self::assertSame($sees, [] !== $captures->codes($viewer, [(int) $secret->id]));
        self::assertSame($sees, null !== $addresses->of($viewer, self::SECRET));
        self::assertSame($sees, null !== $addresses->byCode($viewer, $secret->address->code));
        self::assertCount($sees ? 2 : 1, $addresses->recent($viewer, 10));
        self::assertSame($sees, [] !== self::service(HeldAddresses::class)->of($viewer, [self::SECRET]));
        self::assertSame($sees, [] !== self::service(WordSearch::class)->find($viewer, ['witness'], []));
        $totals = self::service(HoldingsTotals::class)->of($viewer);
        self::assertSame($sees ? [2, 2, 2] : [1, 1, 1], [$totals['addresses'], $totals['captures'], $totals['files']]);
        self::assertSame($sees ? 2 : 1, self::service(HoldingsTotals::class)->pages($viewer));
        $finder = self::service(RecordFinder::class);
        self::assertSame($sees, null !== $finder->find($viewer, self::SECRET, 0, new \DateTimeImmutable()));
        self::assertSame($sees, null !== $finder->findAll($viewer, [self::SECRET], 0, new \DateTimeImmutable())[self::SECRET]);
        // What is for everybody is seen by all of them.
        self::assertNotNull($captures->nearest($viewer, self::PAGE, new \DateTimeImmutable()));
    }

    public function testTheHistoryOfAnAddressIsThatOfWhatIsSeen(): void
    {
        $first = $this->open(self::PAGE, '2024-11-03T10:00:00Z', '<p>one');
        $secret = $this->confidential(self::PAGE, '2024-11-05T10:00:00Z', '<p>two');
        $third = $this->open(self::PAGE, '2024-11-07T10:00:00Z', '<p>three');
        $last = $this->confidential(self::PAGE, '2024-11-09T10:00:00Z', '<p>four');
        $captures = self::service(CaptureRepository::class);
        $history = self::service(AddressHistory::class);
        foreach ([[$this->other, [$first, $third]], [$this->maker, [$first, $secret, $third, $last]]] as [$viewer, $seen]) {
            $codes = array_map(static fn (Capture $one): string => $one->code, $seen);
            $address = self::service(AddressRepository::class)->of($viewer, self::PAGE);
            self::assertInstanceOf(Address::class, $address);
            self::assertSame(\count($seen), $address->captures);
            self::assertEquals(end($seen)->capturedAt, $address->lastAt);
            self::assertEquals(end($seen)->capturedAt, $address->lastAliveAt);
            self::assertSame(end($codes), $captures->last($viewer, $address)?->code);
            self::assertSame($codes[1], $captures->later($viewer, $first)?->code);
            $lines = array_map(static fn ($line): string => $line->code, $history->lines($viewer, $address));
            self::assertSame(array_reverse($codes), $lines);
            self::assertSame($codes, array_map(static fn ($layer): string => $layer->code, $history->layers($viewer, $address)));
            self::assertEquals(end($seen)->capturedAt, self::service(AddressRepository::class)->recent($viewer, 5)[0]->lastAt);
        }
        // What was never written down about it is as it was.
        self::assertSame(4, $this->captureOf(self::PAGE)->address->captures);
    }

    public function testItIsMadeSoAndUndoneAgain(): void
    {
        $capture = $this->open(self::PAGE, '2024-11-03T10:00:00Z', '<p>one');
        $limits = self::service(CaptureLimits::class);
        $captures = self::service(CaptureRepository::class);
        for ($n = 0; $n < 2; ++$n) {
            $limits->say($this->actor, $capture, true);
            self::assertNull($captures->byCode($this->other, $capture->code));
            $seen = $captures->byCode($this->maker, $capture->code);
            self::assertNotNull($seen);
            self::assertTrue($limits->isConfidential($this->maker, $seen));
            self::assertTrue($limits->maySay($this->maker, $seen));
            self::assertFalse($limits->maySay(Viewer::person('Bram Hollis', Role::Administrator), $seen));
            $limits->say($this->actor, $seen, false);
            self::assertNotNull($captures->byCode($this->other, $capture->code));
            self::assertSame(1, self::service(AddressRepository::class)->of($this->other, self::PAGE)?->captures);
            self::assertNotNull(self::service(RecordFinder::class)->find($this->other, self::PAGE, 0, new \DateTimeImmutable()));
        }
    }

    public function testAPageThatARedirectLedToTakesThatAlong(): void
    {
        $this->takeIn((new WarcBuilder('r'))
            ->exchange('http://lantern.test/old', '2024-11-03T10:00:00Z', '', status: 302, fields: ['Location: '.self::SECRET])
            ->exchange(self::SECRET, '2024-11-03T10:00:01Z', '<p>one'), 'r.warc.gz');
        self::service(CaptureLimits::class)->say($this->actor, $this->captureOf(self::SECRET), true);
        foreach (['http://lantern.test/old', self::SECRET] as $url) {
            self::assertNull(self::service(AddressRepository::class)->of($this->other, $url), $url);
        }
    }

    public function testInAFileOfManyPagesTheOthersStayOpen(): void
    {
        $this->takeIn((new WarcBuilder('m'))
            ->exchange(self::PAGE, '2024-11-03T10:00:00Z', '<p>one<img src="/x.png">')
            ->exchange('http://lantern.test/x.png', '2024-11-03T10:00:01Z', 'PNG', 'image/png')
            ->exchange(self::SECRET, '2024-11-03T10:00:02Z', '<p>two'), 'm.warc.gz');
        self::service(CaptureLimits::class)->say($this->actor, $this->captureOf(self::SECRET), true);
        $finder = self::service(RecordFinder::class);
        $file = (int) $this->captureOf(self::PAGE)->warcFile->id;
        foreach ([self::PAGE => true, 'http://lantern.test/x.png' => true, self::SECRET => false] as $url => $sees) {
            self::assertSame($sees, null !== $finder->find($this->other, $url, $file, new \DateTimeImmutable()), $url);
        }
        self::assertNotNull($finder->find(Viewer::person('Tomas Okoye', Role::Custodian), self::SECRET, $file, new \DateTimeImmutable()));
        $this->signIn('Nerys Quill', Role::Reader);
        $given = $this->get('/c/'.$this->captureOf(self::PAGE)->code.'/warc');
        self::assertSame(200, $this->answered());
        $records = $this->unpacked($given);
        self::assertStringContainsString(self::PAGE, $records);
        self::assertStringNotContainsString('witness', $records);
        self::assertStringNotContainsString('<p>two', $records);
    }

    public function testWhatIsGivenOutHasInFullWhatItReferredTo(): void
    {
        $body = '<p>the same words'.str_repeat(' again', 50);
        $secret = $this->open(self::SECRET, '2024-11-03T10:00:00Z', $body);
        $this->takeIn((new WarcBuilder('v'))->revisit(self::PAGE, '2024-11-04T10:00:00Z', [
            'WARC-Payload-Digest' => 'sha256:'.hash('sha256', $body), 'WARC-Refers-To-Target-URI' => self::SECRET,
            'WARC-Refers-To-Date' => '2024-11-03T10:00:00Z',
        ]), 'v.warc.gz');
        $page = $this->captureOf(self::PAGE);
        self::service(CaptureLimits::class)->say($this->actor, $secret, true);
        foreach ([['Nerys Quill', Role::Reader], ['Tomas Okoye', Role::Custodian]] as [$name, $role]) {
            $this->signIn($name, $role);
            $records = $this->unpacked($this->get('/c/'.$page->code.'/warc'));
            self::assertStringContainsString('WARC-Type: response', $records, $name);
            self::assertStringContainsString($body, $records);
            self::assertStringNotContainsString('witness', $records);
            self::assertStringNotContainsString('revisit', $records);
            self::assertStringContainsString('the same words', $this->get('/c/'.$page->code.'/source'));
        }
    }

    public function testNobodyRefersToWhatFewerMaySee(): void
    {
        $body = '<p>unsaid';
        $this->confidential(self::SECRET, '2024-11-03T10:00:00Z', $body);
        self::assertNull(self::service(Originals::class)->known(hash('sha256', $body)));
    }

    public function testMakingTheCatalogueAnewOpensNothing(): void
    {
        $this->open(self::PAGE, '2024-11-03T10:00:00Z', '<p>one');
        $code = $this->confidential(self::SECRET, '2024-11-04T10:00:00Z', '<p>two')->code;
        self::service(CatalogueRebuilder::class)->run(static function (): void {});
        $captures = self::service(CaptureRepository::class);
        self::assertNull($captures->byCode($this->other, $code));
        self::assertNotNull($captures->byCode($this->maker, $code));
        self::assertNull(self::service(RecordFinder::class)->find($this->other, self::SECRET, 0, new \DateTimeImmutable()));
    }

    public function testWhatIsClosedIsSeenByThoseAloneWhoSeeEverything(): void
    {
        $capture = $this->confidential(self::SECRET, '2024-11-04T10:00:00Z', '<p>two');
        $limits = self::service(CaptureLimits::class);
        $captures = self::service(CaptureRepository::class);
        $limits->close(new Actor('Tomas Okoye'), $capture, 'Demanded by the harbour court.');
        self::assertNull($captures->byCode($this->maker, $capture->code));
        self::assertNotNull($captures->byCode(Viewer::person('Tomas Okoye', Role::Custodian), $capture->code));
        $limits->reopen(new Actor('Tomas Okoye'), $this->captureOf(self::SECRET), 'The demand was withdrawn.');
        self::assertNotNull($captures->byCode($this->maker, $capture->code));
        self::assertNull($captures->byCode($this->other, $capture->code));
    }

    public function testWhatIsGrantedOfSomethingClosedWaits(): void
    {
        $capture = $this->confidential(self::SECRET, '2024-11-04T10:00:00Z', '<p>two');
        $dossiers = self::service(Dossiers::class);
        $captures = self::service(CaptureRepository::class);
        $dossier = $dossiers->make($this->actor, new DossierChange('The stern door', people: ['Nerys Quill' => Part::Reader]));
        self::service(CaptureLimits::class)->close(new Actor('Tomas Okoye'), $capture, 'Demanded by the harbour court.');
        $dossiers->lay($this->actor, $dossier, $capture->code);
        self::assertNull($captures->byCode($this->other, $capture->code));
        self::assertNull($captures->byCode($this->maker, $capture->code));
        self::service(CaptureLimits::class)->reopen(
            new Actor('Tomas Okoye'), $this->captureOf(self::SECRET), 'The demand was withdrawn.',
        );
        self::assertNotNull($captures->byCode($this->other, $capture->code));
        self::assertNotNull($captures->byCode($this->maker, $capture->code));
    }

    public function testOfManyCapturesNobodySeesTheNumberFallWithOneThatIsNotTheirs(): void
    {
        $reader = Viewer::person('Nerys Quill', Role::Reader);
        $this->takeIn((new WarcBuilder('m'))->exchange('http://lantern.test/m', '2024-11-03T10:00:00Z', '<p>m'), 'm.warc.gz');
        // As if there were so many that they are no longer counted one by one.
        self::service(Connection::class)->executeStatement('UPDATE capture SET id = id + 300000 ORDER BY id DESC');
        $totals = static fn (): array => self::service(HoldingsTotals::class)->of($reader);
        $before = $totals();
        self::assertGreaterThan(0, $before['captures']);
        self::service(Importer::class)->file(
            $this->folder->file('secret.warc.gz', (new WarcBuilder('s'))->exchange(
                'http://lantern.test/secret', '2024-11-04T10:00:00Z', '<p>s',
            )->bytes()), new Actor('Somebody Else'), true,
        );
        self::assertSame($before, $totals());
        self::service(EntityManagerInterface::class)->clear();
        self::service(CaptureLimits::class)->say(new Actor('Tomas Okoye'), $this->captureOf('http://lantern.test/m'), true);
        self::assertSame($before['captures'] - 1, $totals()['captures']);
    }

    public function testWhatWasPutTogetherBeforeIsForgotten(): void
    {
        $capture = $this->open(self::PAGE, '2024-11-03T10:00:00Z', '<p>one');
        $summaries = self::service(HistorySummaries::class);
        $made = static fn (string $what): array => $summaries->remember('slices', '1 then', static fn (): array => [['code' => $what]]);
        $made('old');
        self::assertSame([['code' => 'old']], $made('new'));
        self::service(CaptureLimits::class)->say($this->actor, $capture, true);
        self::assertSame([['code' => 'new']], $made('new'));
    }

    public function testTheSameBytesInACaptureThatIsNotSeenSuggestNothing(): void
    {
        $shown = $this->open(self::PAGE, '2024-11-03T10:00:00Z', '<p>the same');
        $this->open(self::SECRET, '2024-11-03T10:00:00Z', '<p>another');
        $this->confidential(self::SECRET, '2024-11-05T10:00:00Z', '<p>the same');
        $joined = self::service(JoinedAddresses::class);
        foreach ([[$this->other, []], [$this->maker, ['content']]] as [$viewer, $reasons]) {
            $found = $joined->suggestions($viewer, $shown->address, $shown);
            self::assertSame($reasons, array_column($found, 'reason'));
        }
    }

    public function testThePeopleOfADossierSeeWhatItHolds(): void
    {
        $capture = $this->confidential(self::SECRET, '2024-11-04T10:00:00Z', '<p>two');
        $dossiers = self::service(Dossiers::class);
        $captures = self::service(CaptureRepository::class);
        $sees = fn (): bool => null !== $captures->byCode($this->other, $capture->code);
        $dossier = $dossiers->make($this->actor, new DossierChange('The stern door'));
        $dossiers->lay($this->actor, $dossier, $capture->code);
        self::assertFalse($sees());
        $dossiers->change($this->actor, $dossier, new DossierChange(people: ['Nerys Quill' => Part::Reader]));
        self::assertTrue($sees());
        $dossiers->takeOut($this->actor, $dossier, $capture->code);
        self::assertFalse($sees());
        $dossiers->lay($this->actor, $dossier, $capture->code);
        $dossiers->change($this->actor, $dossier, new DossierChange(people: ['Nerys Quill' => null]));
        self::assertFalse($sees());
        // Whoever reads a dossier that is open to all belongs to it by that no more.
        $dossiers->change($this->actor, $dossier, new DossierChange(open: Opening::All));
        self::assertFalse($sees());
        $dossiers->change($this->actor, $dossier, new DossierChange(people: ['Nerys Quill' => Part::Writer]));
        self::assertTrue($sees());
        $dossiers->delete($this->actor, $dossier);
        self::assertFalse($sees());
        $dossiers->restore($this->actor, $dossier);
        self::assertTrue($sees());
    }

    public function testThePeopleOfADossierSeeWhatLiesInThoseBelow(): void
    {
        $capture = $this->confidential(self::SECRET, '2024-11-04T10:00:00Z', '<p>two');
        $dossiers = self::service(Dossiers::class);
        $captures = self::service(CaptureRepository::class);
        $sees = fn (): bool => null !== $captures->byCode($this->other, $capture->code);
        $outer = $dossiers->make($this->actor, new DossierChange('Outer', people: ['Nerys Quill' => Part::Reader]));
        $middle = $dossiers->make($this->actor, new DossierChange('Middle', parent: $outer->code));
        $inner = $dossiers->make($this->actor, new DossierChange('Inner', parent: $middle->code));
        $dossiers->lay($this->actor, $inner, $capture->code);
        self::assertTrue($sees());
        $dossiers->change($this->actor, $middle, new DossierChange(open: Opening::Private));
        self::assertFalse($sees());
        $dossiers->change($this->actor, $middle, new DossierChange(open: null));
        self::assertTrue($sees());
        $dossiers->change($this->actor, $middle, new DossierChange(parent: null));
        self::assertFalse($sees());
        $dossiers->change($this->actor, $middle, new DossierChange(parent: $outer->code));
        self::assertTrue($sees());
        $dossiers->delete($this->actor, $outer);
        self::assertFalse($sees());
        $dossiers->restore($this->actor, $outer);
        self::assertTrue($sees());
    }

    public function testAFileThatIsHandedInAsConfidentialIsForItsPerson(): void
    {
        $path = $this->folder->file('w.warc.gz', (new WarcBuilder('w'))->exchange(self::SECRET, '2024-11-03T10:00:00Z', '<p>w')->bytes());
        self::service(Importer::class)->file($path, $this->actor, true);
        self::assertNull(self::service(AddressRepository::class)->of($this->other, self::SECRET));
        self::assertNotNull(self::service(AddressRepository::class)->of($this->maker, self::SECRET));
        // Somebody else who has the same file is told no lie about it: what is in it is theirs as well.
        self::assertTrue(self::service(Importer::class)->file($path, new Actor('Nerys Quill'))->known);
        self::assertNotNull(self::service(AddressRepository::class)->of($this->other, self::SECRET));
    }

    private function open(string $url, string $at, string $body): Capture
    {
        return $this->brought($url, $at, $body, false);
    }

    private function confidential(string $url, string $at, string $body): Capture
    {
        return $this->brought($url, $at, $body, true);
    }

    private function brought(string $url, string $at, string $body, bool $confidential): Capture
    {
        $file = $this->folder->file(
            hash('crc32b', $url.$at).'.warc.gz', (new WarcBuilder($url.$at))->exchange($url, $at, $body)->bytes(),
        );
        self::service(Importer::class)->file($file, $this->actor, $confidential);

        return $this->captureOf($url, $at);
    }

    private function unpacked(string $bytes): string
    {
        return implode('', (array) gzfile($this->folder->file('given.gz', $bytes)));
    }
}
