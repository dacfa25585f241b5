<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Monolog\Handler\TestHandler;
use Monolog\LogRecord;
use Ypomna\App\Capture\CapturePageHandler;
use Ypomna\App\Capture\CaptureRequests;
use Ypomna\App\Capture\Message\CapturePage;
use Ypomna\App\Network\CaptureOptions;
use Ypomna\App\Shared\Actor;

/** The log of captures: found by the code, and without what an address may give away. */
final class CaptureLogTest extends AppTestCase
{
    public function testSaysOfEachCaptureWhenItBeganAndHowItEnded(): void
    {
        $job = self::service(CaptureRequests::class)->ask(
            new Actor('The archivist'), 'http://127.0.0.1:9/page?token=of-somebody', new CaptureOptions(rendered: false),
        );
        self::service(CapturePageHandler::class)(new CapturePage((int) $job->id));

        $log = self::getContainer()->get('monolog.handler.capture');
        self::assertInstanceOf(TestHandler::class, $log);
        $lines = array_map(static fn (LogRecord $line): array => [$line->channel, $line->message, $line->context], $log->getRecords());
        self::assertSame([
            ['capture', 'A capture begins.', ['job' => $job->code, 'how' => 'plain', 'attempt' => 1]],
            ['capture', 'A capture ended.', ['job' => $job->code, 'capture' => null, 'verdict' => null, 'reason' => 'guarded']],
        ], $lines);
        self::assertStringNotContainsString('of-somebody', (string) json_encode($lines));
    }
}
