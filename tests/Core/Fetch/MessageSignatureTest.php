<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Fetch;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Fetch\MessageSignature;

/** What is sent can be checked by whoever knows the secret (RFC 9421, RFC 9530). */
final class MessageSignatureTest extends TestCase
{
    public function testAReceiverCanCheckIt(): void
    {
        $body = '{"kind":"changed"}';
        $fields = MessageSignature::fields(
            'POST', Url::parse('https://hook.example/in?x=1#f'), 'application/json', $body, 'watch7', 'secret', 1_700_000_000,
        );
        self::assertSame(1, preg_match('/^Content-Digest: (sha-256=:([^:]+):)\r$/m', $fields, $digest));
        self::assertSame(hash('sha256', $body, true), base64_decode($digest[2], true));
        self::assertSame(1, preg_match('/^Signature-Input: sig=(.*)\r$/m', $fields, $input));
        self::assertSame(
            '("@method" "@target-uri" "content-type" "content-digest");created=1700000000;keyid="watch7";alg="hmac-sha256"', $input[1],
        );
        self::assertSame(1, preg_match('/^Signature: sig=:([^:]+):\r$/m', $fields, $signature));
        // Put together by hand as section 2.5 has it.
        $base = "\"@method\": POST\n\"@target-uri\": https://hook.example/in?x=1\n\"content-type\": application/json\n"
            ."\"content-digest\": {$digest[1]}\n\"@signature-params\": {$input[1]}";
        self::assertSame(base64_encode(hash_hmac('sha256', $base, 'secret', true)), $signature[1]);
        self::assertNotSame(
            $fields,
            MessageSignature::fields(
                'POST', Url::parse('https://hook.example/in?x=1'), 'application/json', $body.' ', 'watch7', 'secret', 1_700_000_000,
            ),
        );
    }

    public function testFurtherFieldsAreSentAndSigned(): void
    {
        $signed = static fn (string $id): string => MessageSignature::fields(
            'POST', Url::parse('https://hook.example/in'), 'application/json', '{}', 'watch7', 'secret', 1_700_000_000,
            ['Ypomna-Event-Id' => $id],
        );
        self::assertStringContainsString("Ypomna-Event-Id: 7\r\n", $signed('7'));
        self::assertStringContainsString('"content-digest" "ypomna-event-id");created=', $signed('7'));
        self::assertNotSame(strstr($signed('7'), 'Signature: '), strstr($signed('8'), 'Signature: '));
    }
}
