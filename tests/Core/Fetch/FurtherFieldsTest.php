<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Fetch;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Fetch\FurtherFields;

final class FurtherFieldsTest extends TestCase
{
    private const HEAD = "GET / HTTP/1.1\r\nHost: x\r\nAccept: */*\r\nAccept-Encoding: gzip\r\nCookie: own=1\r\n\r\n";

    public function testTheyGoToThePagesOwnOriginAndNowhereElse(): void
    {
        $fields = new FurtherFields(['Authorization' => 'Bearer abc', 'X-Key' => '1'], Url::parse('http://lantern.test/a'));
        foreach (['http://lantern.test/b?c', 'http://lantern.test:80/', 'https://lantern.test/'] as $own) {
            self::assertStringEndsWith(
                "Cookie: own=1\r\nAuthorization: Bearer abc\r\nX-Key: 1\r\n\r\n", $fields->in(Url::parse($own), self::HEAD), $own,
            );
        }
        foreach ([
            'http://cdn.lantern.test/', 'http://lantern.test:8080/', 'http://www.lantern.test/', 'http://evil.test/?http://lantern.test/',
            'https://lantern.test:444/', 'http://lantern.test.evil.test/',
        ] as $other) {
            self::assertSame(self::HEAD, $fields->in(Url::parse($other), self::HEAD), $other);
        }
        // What was asked for under lock is not sent in clear.
        self::assertSame(
            self::HEAD,
            (new FurtherFields(['X' => '1'], Url::parse('https://lantern.test/')))->in(Url::parse('http://lantern.test/'), self::HEAD),
        );
        self::assertStringContainsString(
            "X: 1\r\n", (new FurtherFields(['X' => '1'], null))->in(Url::parse('http://anywhere.test/'), self::HEAD),
        );
    }

    public function testTheyTakeThePlaceOfTheUsualOnes(): void
    {
        $head = (new FurtherFields(['accept' => 'text/html', 'Cookie' => 'given=2', "X-Bad\r\nY" => "a\r\nInjected: 1"], null, true))->in(
            Url::parse('http://lantern.test/'), self::HEAD,
        );
        self::assertSame(
            "GET / HTTP/1.1\r\nHost: x\r\nAccept-Encoding: identity\r\naccept: text/html\r\nCookie: own=1; given=2\r\nX-Bad Y: a"
                ." Injected: 1\r\n\r\n",
            $head,
        );
    }
}
