<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

use Ypomna\Core\Address\Url;

/** Signs what is sent, with a secret that both sides know (RFC 9421, hmac-sha256; its digest by RFC 9530). */
final class MessageSignature
{
    /**
     * @return string the fields Content-Type, Content-Digest, Signature-Input and Signature, each with its line end
     */
    public static function fields(string $method, Url $url, string $type, string $body, string $key, #[\SensitiveParameter] string $secret, int $created): string
    {
        $digest = 'sha-256=:'.base64_encode(hash('sha256', $body, true)).':';
        $input = \sprintf('("@method" "@target-uri" "content-type" "content-digest");created=%d;keyid="%s";alg="hmac-sha256"', $created, $key);
        $signed = self::base($method, $url, $type, $digest, $input);

        return 'Content-Type: '.$type."\r\nContent-Digest: ".$digest."\r\nSignature-Input: sig=".$input."\r\nSignature: sig=:".base64_encode(hash_hmac('sha256', $signed, $secret, true)).":\r\n";
    }

    /** What is signed (RFC 9421, section 2.5). */
    public static function base(string $method, Url $url, string $type, string $digest, string $input): string
    {
        return '"@method": '.$method."\n\"@target-uri\": ".$url->withoutFragment()."\n\"content-type\": ".$type."\n\"content-digest\": ".$digest."\n\"@signature-params\": ".$input;
    }
}
