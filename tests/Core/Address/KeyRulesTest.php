<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Address;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Address\InvalidRules;
use Ypomna\Core\Address\Key;
use Ypomna\Core\Address\KeyRules;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Address\Variants;

final class KeyRulesTest extends TestCase
{
    private const OWN = "# ours\n tracking ref  # and why\n\nTracking from_* on Lantern.test\nkeep utm_edition on lantern.test\nsession"
        ." token\r\nordered on net.example\ntracking a.b*c";

    public function testAnInstallationAddsItsOwn(): void
    {
        $rules = KeyRules::shipped()->and(KeyRules::parse(self::OWN, 'address-rules.txt'));
        $expected = [
            'http://lantern.test/?ref=x&from_mail=1&FROM_=2&utm_source=y&utm_edition=3' => 'test!lantern /?utm_edition=3',
            'http://cdn.lantern.test/?from_mail=1' => 'test!lantern!cdn /',
            'http://other.test/?from_mail=1&utm_edition=3' => 'test!other /?from_mail=1',
            'http://notlantern.test/?from_x=1' => 'test!notlantern /?from_x=1',
            'http://net.example/?b=1&a=2' => 'example!net /?b=1&a=2', 'http://lantern.test/?b=1&a=2' => 'test!lantern /?a=2&b=1',
            'http://lantern.test/?token=short' => 'test!lantern /?token=short',
            'http://lantern.test/?token=q1w2e3r4t5y6u7i8o9' => 'test!lantern /',
            'http://lantern.test/?a.bxxc=1&aXbc=2' => 'test!lantern /?aXbc=2',
            'http://lantern.test/?%72ef=1' => 'test!lantern /', 'http://127.0.0.1/?from_x=1' => '127.0.0.1 /?from_x=1',
            'http://[::1]/?ref=1' => '[::1] /',
        ];
        foreach ($expected as $url => $key) {
            self::assertSame($key, Key::of(Url::parse($url), $rules), $url);
        }
        self::assertSame(
            'http://lantern.test/?utm_edition=3', Key::canonical(Url::parse('http://lantern.test/?utm_edition=3&ref=9'), $rules),
        );
        self::assertSame('test!lantern /?ref=x', Key::of(Url::parse('http://lantern.test/?ref=x')), 'What ships stays as it is.');
    }

    #[DataProvider('wrong')]
    public function testALineThatIsNoRuleIsNamed(string $line, string $why): void
    {
        $this->expectException(InvalidRules::class);
        $this->expectExceptionMessage('address-rules.txt, line 2: “'.$why);
        KeyRules::parse("tracking a\n{$line}\ntracking b", 'address-rules.txt');
    }

    /**
     * @return iterable<list<string>>
     */
    public static function wrong(): iterable
    {
        yield ['tracking', 'tracking” is not a rule'];
        yield ['drop x', 'drop x” is not a rule'];
        yield ['tracking a b', 'tracking a b” is not a rule'];
        yield ['tracking a=b', 'tracking a=b” is not a rule'];
        yield ['session x on http://', 'http://” is not a host name'];
        yield ["tracking \xff\xfe x", 'tracking ?? x” is not a rule'];
    }

    public function testNothingMatchesLineEndsOrPatternsOfOthers(): void
    {
        $rules = KeyRules::parse('tracking (a+)+$', 'x');
        self::assertFalse($rules->drops(str_repeat('a', 50), '', null));
        self::assertTrue($rules->drops('(a+)+$', '', null));
        self::assertFalse(KeyRules::shipped()->drops("fbclid\n", '', null));
    }

    #[DataProvider('alike')]
    public function testAddressesThatOftenLeadToTheSamePageAreVariants(string $asked, string $held): void
    {
        $variants = array_map(static fn (Url $url): string => Key::of($url), Variants::of(Url::parse($asked)));
        self::assertContains(Key::of(Url::parse($held)), $variants);
        self::assertLessThanOrEqual(60, \count($variants));
        self::assertNotContains($asked, array_map(\strval(...), Variants::of(Url::parse($asked))));
    }

    /**
     * @return iterable<list<string>>
     */
    public static function alike(): iterable
    {
        yield ['http://lantern.test/a/', 'http://lantern.test/a'];
        yield ['http://lantern.test/a', 'http://lantern.test/a/'];
        yield ['http://lantern.test/', 'http://lantern.test/index.html'];
        yield ['http://lantern.test/index.php', 'http://lantern.test/'];
        yield ['http://lantern.test/News/Held.HTML', 'http://lantern.test/news/held.html'];
        yield ['http://lantern.test/held.html', 'http://lantern.test/held'];
        yield ['http://lantern.test/held', 'http://lantern.test/held.html'];
        yield ['http://m.lantern.test/a', 'http://lantern.test/a'];
        yield ['http://www.lantern.test/a', 'http://m.lantern.test/a'];
        yield ['http://lantern.test/a/amp', 'http://lantern.test/a'];
        yield ['http://lantern.test/a?from=x', 'http://lantern.test/a'];
        yield ['http://lantern.test/a?id=3&from=x', 'http://lantern.test/a?id=3'];
        yield ['http://lantern.test/two+words', 'http://lantern.test/two%20words'];
        yield ['http://lantern.test//a//b', 'http://lantern.test/a/b'];
        yield ['http://lantern.test/a%2520b', 'http://lantern.test/a%20b'];
        yield ['http://lantern.test/held).', 'http://lantern.test/held'];
        yield ['http://lantern.test/held”,', 'http://lantern.test/held'];
        yield ['http://lantern.test/held/?id=3.', 'http://lantern.test/held/?id=3'];
    }

    public function testHostileAddressesHaveFewVariants(): void
    {
        foreach ([
            'http://lantern.test/?'.str_repeat('a=1&', 10_000),
            'http://lantern.test/'.str_repeat('/', 50_000),
            'http://lantern.test/'.str_repeat(').', 50_000),
            'http://[::1]/x',
            'mailto:x@lantern.test',
        ] as $url) {
            self::assertLessThanOrEqual(60, \count(Variants::of(Url::parse($url))));
        }
    }
}
