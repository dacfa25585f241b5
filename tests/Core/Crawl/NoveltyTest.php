<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Crawl;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Crawl\Novelty;

final class NoveltyTest extends TestCase
{
    public function testAnEmptyCalendarIsExhaustedInAnyLanguage(): void
    {
        foreach (['en' => 'Nothing on in %s.', 'de' => 'Im %s ist nichts los.', 'el' => 'Τίποτα: %s'] as $language => $text) {
            $format = new \IntlDateFormatter($language, \IntlDateFormatter::NONE, \IntlDateFormatter::NONE, 'UTC', null, 'LLLL yyyy');
            $novelty = new Novelty('a.test/calendar/0/0');
            $n = -1;
            do {
                ++$n;
                $exhausted = $novelty->add(
                    [
                        (string) $format->format((int) gmmktime(0, 0, 0, 1 + $n, 1, 2024)),
                        \sprintf($text, (string) $format->format((int) gmmktime(0, 0, 0, 1 + $n, 1, 2024))),
                    ],
                    0 === $n,
                );
            } while (!$exhausted && $n < 60);
            self::assertGreaterThanOrEqual(Novelty::PATIENCE, $n, $language);
            self::assertLessThan(Novelty::PATIENCE + 14, $n, $language);
        }
    }

    public function testPagesThatSaySomethingGoOn(): void
    {
        $archive = new Novelty('a.test/log/0-0-0');
        $numbers = new Novelty('a.test/station/0');
        for ($n = 0; $n < 500; ++$n) {
            self::assertFalse($archive->add(
                ['The log', 'Entry about '.substr(md5((string) $n), 0, 3).strtr((string) $n, '0123456789', 'abcdefghij')], false,
            ));
            // Where there is no date, numbers are what a page has to say.
            self::assertFalse($numbers->add(['Station', 'Reading: '.$n], false));
        }
    }

    public function testALinkOrAPictureThatIsNewIsEnough(): void
    {
        $novelty = new Novelty('a.test/photo/0');
        for ($n = 0; $n < 100; ++$n) {
            self::assertFalse($novelty->add(['Photo'], true));
        }
        for ($n = 1; $n < Novelty::PATIENCE; ++$n) {
            self::assertFalse($novelty->add(['Photo'], false));
        }
        self::assertTrue($novelty->add(['Photo'], false));
    }

    public function testItGoesOnWhereItWas(): void
    {
        $first = new Novelty('a.test/x/0');
        $first->add(['One', 'Two'], false);
        $second = new Novelty('a.test/x/0', $first->state(), $first->idle);
        $second->add(['Two', 'One'], false);
        self::assertSame(1, $second->idle);
        $second->add(['Three'], false);
        self::assertSame(0, $second->idle);
        self::assertSame(12, \strlen($second->state()));
    }
}
