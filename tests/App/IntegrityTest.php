<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use Ypomna\App\Exchange\Verifier;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Settings;
use Ypomna\App\Store\MirroredLedger;
use Ypomna\Tests\Support\WarcBuilder;

final class IntegrityTest extends AppTestCase
{
    private WarcBuilder $first;

    protected function setUp(): void
    {
        parent::setUp();
        $this->first = (new WarcBuilder('1'))->exchange('http://lantern.test/a', '2024-01-01T00:00:00Z', '<p>a')->exchange(
            'http://lantern.test/b', '2024-01-01T00:00:00Z', str_repeat('b', 300),
        );
        $this->takeIn($this->first, 'one.warc.gz');
        $this->takeIn((new WarcBuilder('2'))->exchange('http://lantern.test/c', '2024-01-02T00:00:00Z', '<p>c'), 'two.warc.gz');
    }

    public function testUntouchedHoldingsHold(): void
    {
        self::assertSame([], $this->verify());
    }

    public function testAFlippedByteIsNamedWithItsRecord(): void
    {
        $path = $this->file('http://lantern.test/a');
        chmod($path, 0o644);
        $bytes = (string) file_get_contents($path);
        $at = $this->first->offsets[3] + 60;
        $bytes[$at] = \chr(\ord($bytes[$at]) ^ 1);
        file_put_contents($path, $bytes);
        $findings = $this->verify();
        self::assertStringContainsString('The file was altered', $findings[$this->relative($path)]);
        self::assertArrayHasKey($this->relative($path).' @ '.$this->first->offsets[3], $findings);
        self::assertStringNotContainsString($this->relative($this->file('http://lantern.test/c')), implode(' ', array_keys($findings)));
    }

    public function testARewrittenRecordIsNamedByItsOwnDigest(): void
    {
        // Unpacked, altered and packed again: every gzip checksum holds.
        $path = $this->file('http://lantern.test/a');
        chmod($path, 0o644);
        $bytes = (string) file_get_contents($path);
        $member = substr($bytes, $this->first->offsets[3]);
        file_put_contents(
            $path, substr($bytes, 0, $this->first->offsets[3]).gzencode(str_replace('bbb', 'ccc', (string) gzdecode($member))),
        );
        $findings = $this->verify();
        self::assertStringContainsString('The record urn:uuid:', $findings[$this->relative($path).' @ '.$this->first->offsets[3]]);
    }

    public function testAMissingFileIsNamed(): void
    {
        $path = $this->file('http://lantern.test/c');
        unlink($path);
        self::assertSame([$this->relative($path) => 'The file is missing from the store.'], $this->verify());
    }

    public function testAFileThatNobodyEnteredIsNamed(): void
    {
        file_put_contents(Settings::dataFolder().'/store/planted.warc.gz', 'x');
        self::assertSame(['planted.warc.gz'], array_keys($this->verify()));
    }

    public function testAnAlteredLedgerLineIsNamed(): void
    {
        $this->rewriteLedger(static fn (array $lines): array => [str_replace('one.warc.gz', 'two.warc.gz', $lines[0]), $lines[1]]);
        $findings = $this->verify();
        self::assertStringContainsString('The line was altered', $findings['ledger line 1']);
    }

    public function testALedgerRewrittenWithAllItsHashesIsToldByItsMirror(): void
    {
        $this->rewriteLedger(static function (array $lines): array {
            $previous = str_repeat('0', 64);
            foreach ($lines as $n => $line) {
                $json = (string) preg_replace(
                    '/"previous":"[0-9a-f]{64}"/',
                    '"previous":"'.$previous.'"',
                    str_replace('one.warc.gz', 'six.warc.gz', substr($line, 65)),
                );
                $previous = hash('sha256', $json);
                $lines[$n] = $previous.' '.$json;
            }

            return $lines;
        });
        self::assertStringContainsString('mirror', $this->verify()['ledger line 1']);
    }

    public function testALedgerCutOffAtItsEndIsTold(): void
    {
        $this->rewriteLedger(static fn (array $lines): array => [$lines[0]]);
        self::assertStringContainsString('cut off at its end', $this->verify()['ledger']);
    }

    public function testTheMirrorCatchesUpWithTheFile(): void
    {
        $database = self::service(Connection::class);
        $database->executeStatement('DELETE FROM ledger_line');
        $book = self::service(MirroredLedger::class);
        self::assertSame(
            'two.warc.gz', $book->line('file.taken-in', $this->relative($this->file('http://lantern.test/c')))?->details['name'] ?? null,
        );
        self::assertNull($book->line('file.taken-in', 'nowhere'));
        self::assertSame([], $this->verify());
    }

    public function testTheScreenShowsTheLedgerAndStartsAVerification(): void
    {
        $crawler = $this->client->request('GET', '/integrity');
        self::assertSame(200, $this->answered());
        self::assertStringContainsString('have not been verified yet', $this->body());
        $this->client->submit($crawler->selectButton('Verify now')->form());
        self::assertSame('/integrity', $this->header('Location'));
        self::assertStringContainsString('Reading the holdings', $this->get('/integrity'));
        $this->client->request('POST', '/integrity/verify', ['_token' => 'guessed']);
        self::assertSame(403, $this->answered());
        $ledger = $this->get('/integrity/ledger');
        self::assertSame((string) file_get_contents(Settings::dataFolder().'/ledger/ledger.txt'), $ledger);
    }

    public function testFilesAreGivenOutAsTheyWereKept(): void
    {
        $code = $this->captureOf('http://lantern.test/a')->code;
        self::assertSame($this->first->bytes(), $this->get("/c/{$code}/warc"));
        self::assertStringContainsString('attachment', $this->header('Content-Disposition'));
        self::assertSame('sha-256=:'.base64_encode(hash('sha256', $this->first->bytes(), true)).':', $this->header('Repr-Digest'));
        $mhtml = $this->get("/c/{$code}/mhtml");
        self::assertSame($mhtml, $this->get("/c/{$code}/mhtml"));
        self::assertStringContainsString("Snapshot-Content-Location: http://lantern.test/a\r\n", $mhtml);
        self::assertStringNotContainsString('http://lantern.test/b', $mhtml, 'Another page of the same file is no part of this one.');
    }

    /**
     * @return array<string, string> what by where
     */
    private function verify(): array
    {
        $verifier = self::service(Verifier::class);
        $verification = $verifier->begin(new Actor('Tomas Okoye'));
        $verifier->run($verification);

        $byPlace = [];
        foreach ($verification->findings as $finding) {
            $byPlace[$finding['where']] = trim(($byPlace[$finding['where']] ?? '').' '.$finding['what']);
        }

        return $byPlace;
    }

    private function file(string $url): string
    {
        return Settings::dataFolder().'/store/'.$this->captureOf($url)->warcFile->path;
    }

    private function relative(string $path): string
    {
        return substr($path, \strlen(Settings::dataFolder().'/store/'));
    }

    /**
     * @param \Closure(list<string>): list<string> $change
     */
    private function rewriteLedger(\Closure $change): void
    {
        $path = Settings::dataFolder().'/ledger/ledger.txt';
        file_put_contents($path, implode("\n", $change(explode("\n", rtrim((string) file_get_contents($path)))))."\n");
    }
}
