<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Account;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Account\LocalTarget;
use Ypomna\Core\Account\PasswordRule;
use Ypomna\Core\Account\PersonName;

/** Names, passwords, and where one is led after signing in. */
final class AccountRulesTest extends TestCase
{
    #[DataProvider('names')]
    public function testNames(string $typed, ?string $name): void
    {
        self::assertSame($name, PersonName::of($typed));
    }

    /** @return iterable<string, array{string, string|null}> */
    public static function names(): iterable
    {
        yield 'as it is' => ['Ilse Varga', 'Ilse Varga'];
        yield 'blanks' => ["  Ilse \u{a0}\t Varga ", 'Ilse Varga'];
        yield 'composed' => ["Jose\u{301}", 'José'];
        yield 'Greek' => ['Ελένη Παπά', 'Ελένη Παπά'];
        yield 'Arabic' => ['ليلى', 'ليلى'];
        yield 'an apostrophe' => ["Nora O'Dell", "Nora O'Dell"];
        yield 'short for work' => ['t.okoye@watchdog', 't.okoye@watchdog'];
        yield 'figures' => ['42', '42'];
        yield 'the longest' => [str_repeat('é', 100), str_repeat('é', 100)];
        yield 'too long' => [str_repeat('é', 101), null];
        yield 'huge' => [str_repeat('a', 1_000_000), null];
        foreach ([
            '' => 'empty', ' ' => 'blank', '-admin' => 'option', '<b>x</b>' => 'markup', "a\u{202e}b" => 'turned round',
            "a\u{200b}b" => 'hidden',
            "a\0b" => 'nul', "\xff" => 'no text', 'a,b"c' => 'quote', '=1+1' => 'formula',
        ] as $typed => $why) {
            yield $why => [$typed, null];
        }
    }

    #[DataProvider('passwords')]
    public function testPasswords(string $password, ?PasswordRule $broken): void
    {
        self::assertSame($broken, PasswordRule::broken($password, 'Ilse Varga'));
    }

    /** @return iterable<array{string, PasswordRule|null}> */
    public static function passwords(): iterable
    {
        foreach ([
            'stern-door-2024', 'correct horse', 'ἀρχεῖον1', 'a7#kkp2!', 'passwords are long', '19284655', str_repeat('ab c', 200),
        ] as $good) {
            yield [$good, null];
        }
        yield ['seven77', PasswordRule::TooShort];
        yield ['', PasswordRule::TooShort];
        yield ['ééééééé', PasswordRule::TooShort];
        yield [str_repeat('abc ', 251), PasswordRule::TooLong];
        foreach ([
            'password', 'Password1', 'QWERTYUI', 'letmein!!', '12345678', '87654321', 'aaaaaaaa', 'abababab', '!!!admin',
        ] as $common) {
            yield [$common, PasswordRule::Common];
        }
        yield ['ilsevarga', PasswordRule::LikeTheName];
        yield ['Ilse Varga 2024', PasswordRule::LikeTheName];
    }

    #[DataProvider('targets')]
    public function testAfterSigningInOneIsLedToPagesOfOurs(string $asked, ?string $target): void
    {
        self::assertSame($target, LocalTarget::of($asked));
    }

    /** @return iterable<array{string, string|null}> */
    public static function targets(): iterable
    {
        foreach (['/', '/captures', '/find?q=a%20b&x=//c', '/c/abc', '/a//b'] as $ours) {
            yield [$ours, $ours];
        }
        foreach ([
            '', 'captures', '//evil.test', '///evil.test', '/\\evil.test', '\\\\evil.test', 'http://evil.test', 'https:evil.test',
            'javascript:alert(1)', "/\t/evil.test", "/\n/evil.test", "/\r\nSet-Cookie: a=b", '/a\\..\\b', "/\0", ' /captures', '/é',
            '/sign-out', '/sign-in', '/'.str_repeat('a', 4_000),
        ] as $elsewhere) {
            yield [$elsewhere, null];
        }
    }
}
