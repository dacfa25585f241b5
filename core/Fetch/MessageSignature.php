<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

use Ypomna\Core\Address\Url;

/** Signs what is sent, with a secret that both sides know (RFC 9421, hmac-sha256; its digest by RFC 9530). */
final class MessageSignature
{
    /**
     * @param array<string, string> $further fields to be sent and signed as well: name to value, in this order
     *
     * @return string Content-Type, Content-Digest, the further fields, Signature-Input and Signature, each with its line end
     */
    public static function fields(
        string $method,
        Url $url,
        string $type,
        string $body,
        string $key,
        #[\SensitiveParameter] string $secret,
        int $created,
        array $further = [],
    ): string {
        $covered = ['Content-Type' => $type, 'Content-Digest' => 'sha-256=:'.base64_encode(hash('sha256', $body, true)).':'] + $further;
        $names = implode(' ', array_map(static fn (string $name): string => '"'.strtolower($name).'"', array_keys($covered)));
        $input = \sprintf('("@method" "@target-uri" %s);created=%d;keyid="%s";alg="hmac-sha256"', $names, $created, $key);
        $signature = base64_encode(hash_hmac('sha256', self::base($method, $url, $covered, $input), $secret, true));
        $lines = '';
        foreach ($covered + ['Signature-Input' => 'sig='.$input, 'Signature' => 'sig=:'.$signature.':'] as $name => $value) {
            $lines .= $name.': '.$value."\r\n";
        }

        return $lines;
    }

    /**
     * What is signed (RFC 9421, section 2.5).
     *
     * @param array<string, string> $covered
     */
    private static function base(string $method, Url $url, array $covered, string $input): string
    {
        $lines = ['"@method": '.$method, '"@target-uri": '.$url->withoutFragment()];
        foreach ($covered as $name => $value) {
            $lines[] = '"'.strtolower($name).'": '.$value;
        }

        return implode("\n", [...$lines, '"@signature-params": '.$input]);
    }
}
