<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use Ypomna\App\Capture\JobList;
use Ypomna\App\Capture\RecordedCaptures;
use Ypomna\App\Catalogue\Entity\WarcFile;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Store\MirroredLedger;
use Ypomna\Tests\Support\WarcBuilder;

/** A file that this software made elsewhere becomes a capture of this installation. */
final class RecordedCapturesTest extends AppTestCase
{
    private const CODE = 'abcdefghjkmn';

    public function testItCountsAsCapturedHereHoweverOftenItIsEntered(): void
    {
        $warc = (new WarcBuilder('r'))->exchange('http://lantern.test/held', '2024-11-03T10:00:00Z', '<title>Held</title>x');
        $file = $this->folder->file('recorded.warc.gz', $warc->bytes());
        $at = new \DateTimeImmutable('2024-11-03T10:00:00Z');
        for ($n = 0; $n < 2; ++$n) {
            self::service(RecordedCaptures::class)->enter(new Actor('Ilse Varga'), self::CODE, 'http://lantern.test/held', $at, $file);
        }
        $capture = $this->captureOf('http://lantern.test/held');
        self::assertSame([WarcFile::OWN, 'Held', 1], [$capture->warcFile->origin, $capture->title, $capture->address->captures]);
        self::assertSame('2024/11/20241103T100000Z-'.self::CODE.'.warc.gz', $capture->warcFile->path);
        $job = self::service(JobList::class)->byCode(Viewer::system(), self::CODE);
        self::assertSame(['done', $capture->code], [$job?->stage->value, $job?->captureCode]);
        $line = self::service(MirroredLedger::class)->line('capture.kept', $capture->warcFile->path);
        self::assertSame('Ilse Varga', $line?->details['agent']);
        self::assertStringContainsString('/captures/'.self::CODE, $this->get('/captures'));
    }

    public function testAFailureIsToldOnTheFirstScreenUntilThePageIsCaptured(): void
    {
        $at = new \DateTimeImmutable();
        self::service(RecordedCaptures::class)
            ->enterFailure(new Actor('Ilse Varga'), self::CODE, 'http://lantern.test/shut', $at, 'refused', 'Nobody listens.');
        self::assertStringContainsString('The server refused the connection.', $this->get('/'));
        self::assertStringContainsString('Nobody listens.', $this->get('/captures/'.self::CODE));
        self::service(Connection::class)->executeStatement(
            'INSERT INTO capture_job (code, url, requested_at, agent, key_hash, how, stage, finished_at, attempts, host)'
                ." SELECT 'bbbbbbbbbbbb', url, requested_at, agent, key_hash, how, 'done', finished_at, 1, host"
                .' FROM capture_job WHERE code = ?',
            [self::CODE],
        );
        self::assertStringNotContainsString('The server refused the connection.', $this->get('/'));
    }
}
