<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Ypomna\App\Shared\Twig\FormatExtension;

/** Messages with values in them: our days stand in them as they are, and nothing else brings markup along. */
final class SentenceTest extends AppTestCase
{
    public function testWhatIsNoMarkupOfOursIsEscaped(): void
    {
        $format = self::service(FormatExtension::class);
        $day = $format->day(new \DateTimeImmutable('2026-01-19T10:00:00Z'));
        self::assertSame(\sprintf('Last seen on <strong>%s</strong>.', $day), $format->sentence('check.last_seen', ['day' => $day]));
        self::assertSame(
            'Last seen on <strong>&lt;img src=x onerror=&quot;a()&quot;&gt;{n}</strong>.',
            $format->sentence('check.last_seen', ['day' => '<img src=x onerror="a()">{n}']),
        );
    }

    public function testWhatIsNoTextHasNoWord(): void
    {
        $format = self::service(FormatExtension::class);
        self::assertSame('complete', $format->word('whole', 'verdict'));
        self::assertSame(['', '', ''], array_map(static fn (mixed $value) => $format->word($value, 'gap'), [null, ['image'], 4]));
    }
}
