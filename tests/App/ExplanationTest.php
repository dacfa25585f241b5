<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\Shared\Explanation;

/** Why something failed is kept as a key with its values, and told in words. */
final class ExplanationTest extends AppTestCase
{
    #[DataProvider('kept')]
    public function testItIsToldFromWhatWasKept(string $kept, string $told): void
    {
        self::assertSame($told, Explanation::of($kept)->trans(self::service(TranslatorInterface::class)));
    }

    /** @return iterable<string, array{string, string}> */
    public static function kept(): iterable
    {
        $of = static fn (string $file): string => (new Explanation('exchange.file_is_longer', ['file' => $file]))->kept();
        yield 'a name' => [$of('log “3”/ä.warc'), 'log “3”/ä.warc is longer than it was said to be.'];
        yield 'a name that looks like a message' => [$of('{file} \'{x, number}'), '{file} \'{x, number} is longer than it was said to be.'];
        yield 'a name in no encoding' => [$of("a\xff.warc"), "a\u{fffd}.warc is longer than it was said to be."];
        yield 'a number' => [
            (new Explanation('replay.printed_page_is_too_large', ['most' => 1_024]))->kept(), 'Printed, the page is larger than 1,024 MB.',
        ];
        yield 'no values' => [Explanation::unexpected()->kept(), 'Something unexpected happened. The log says more.'];
        yield 'what a server says of itself' => [Explanation::words('No {such} page')->kept(), 'No {such} page'];
        yield 'words of the version before' => ['The disk took no more.', 'The disk took no more.'];
        foreach (['', 'null', '7', '[]', '{"key":1}', '{"key":"ui.in_its_own_words"}', '{"key":"a","values":3}'] as $other) {
            yield 'words that read '.$other => [$other, $other];
        }
        yield 'values that are none' => [
            '{"key":"exchange.file_is_longer","values":{"file":["a"]}}', '{file} is longer than it was said to be.',
        ];
    }
}
