<?php

declare(strict_types=1);

namespace Ypomna\Core\Replay;

use Ypomna\Core\Page\Candidates;

/**
 * Turns the references of a page towards the archive, tag by tag (HTML Living Standard, section 13.2.5). A tag in which
 * nothing leads elsewhere stays as it is, byte for byte.
 */
final class HtmlRewriter
{
    /** Elements whose content is text until their end tag. */
    private const RAW = ['script', 'style', 'textarea', 'title', 'xmp', 'iframe', 'noembed', 'noframes'];

    private const TAKEN_APART = [
        'script' => 1, 'style' => 1, 'textarea' => 1, 'title' => 1, 'xmp' => 1, 'iframe' => 1, 'noembed' => 1, 'noframes' => 1,
        'noscript' => 1, 'meta' => 1, 'link' => 1,
    ];

    private const REFERENCES = [
        'href', 'src', 'action', 'formaction', 'data', 'poster', 'background', 'longdesc', 'cite', 'usemap', 'manifest', 'codebase',
        'archive', 'classid', 'xlink:href', 'profile', 'dynsrc', 'lowsrc', 'icon',
    ];
    private const CANDIDATES = ['srcset', 'imagesrcset', 'data-srcset'];
    /** What would open a connection ahead of need, or bind the page to a policy of its old host. */
    private const HINTS = '/^(?:.*\s)?(?:preconnect|dns-prefetch|prefetch|prerender|pingback|manifest|serviceworker)(?:\s.*)?$/i';

    /** SVG 2, section 6.6. */
    private const STYLED = ['fill', 'stroke', 'filter', 'mask', 'clip-path', 'cursor', 'marker-start', 'marker-mid', 'marker-end'];

    /** Of one tag; more are left out. */
    private const MOST_ATTRIBUTES = 1_000;

    private readonly CssRewriter $css;
    private readonly ScriptRewriter $script;
    private bool $injected = false;

    /**
     * @param string $inject markup for the beginning of the head
     * @param string $encoding in which the document was written: scripts that do not say theirs are in the same; '' if that is UTF-8
     * @param bool $scripts whether scripts stay; without them what stands in for scripts that are off goes, too, since the document was
     *     made with them on
     */
    public function __construct(
        private readonly ReferenceMapper $mapper,
        private readonly string $inject = '',
        private readonly bool $scripts = true,
        private readonly string $encoding = '',
    ) {
        $this->css = new CssRewriter($mapper);
        $this->script = new ScriptRewriter($mapper);
    }

    /** @param string $html UTF-8 */
    public function rewrite(string $html): string
    {
        $out = '';
        $at = 0;
        $length = \strlen($html);
        while ($at < $length) {
            $open = strpos($html, '<', $at);
            if (false === $open) {
                break;
            }
            $out .= substr($html, $at, $open - $at);
            $at = $open;
            $out .= $this->markup($html, $at);
        }
        $out .= substr($html, $at);

        return $this->injected || '' === $this->inject ? $out : $this->inject.$out;
    }

    /** Takes in what begins at that `<` and moves on behind it. */
    private function markup(string $html, int &$at): string
    {
        // Comments, those that end at once among them; end tags; all else that begins with these marks ends at the next `>`,
        // as it does in a browser (sections 13.2.5.41 to 13.2.5.51).
        if (1 === preg_match('/<[!?\/]/A', $html, $m, 0, $at)) {
            $start = $at;
            $at = self::endOfRemark($html, $at);

            return substr($html, $start, $at - $start);
        }
        // Most tags have no attributes, and nothing in them leads anywhere.
        if (1 === preg_match('/<([a-z][a-z0-9]*+)>/Ai', $html, $m, 0, $at) && !isset(self::TAKEN_APART[strtolower($m[1])])) {
            $at += \strlen($m[0]);

            return $this->withInjection(strtolower($m[1]), $m[0]);
        }
        if (1 !== preg_match('/<([a-z][^\s\/>\x00]*)/Ai', $html, $m, 0, $at)) {
            ++$at;

            return '<';
        }
        $start = $at;
        $at += \strlen($m[0]);
        $name = strtolower($m[1]);
        [$attributes, $closed] = $this->attributes($html, $at);
        if (!$closed) {
            // A tag that never ends is dropped by browsers; so it is here.
            return '';
        }
        $tag = $this->tag($name, $attributes, substr($html, $start, $at - $start));
        if (!$this->scripts && ('script' === $name || 'noscript' === $name)) {
            $this->rawText($name, $html, $at);
            $at += 1 === preg_match('/<\/[^>]*>/A', $html, $m, 0, $at) ? \strlen($m[0]) : 0;

            return '';
        }
        if ('script' === $name && '' !== $this->encoding) {
            $values = array_column($attributes, 1, 0);
            $tag = isset($values['src']) && !isset($values['charset'])
                ? '<script charset="'.$this->encoding.'"'.substr($tag, \strlen('<script'))
                : $tag;
        }
        if (\in_array($name, self::RAW, true)) {
            $tag .= $this->rawText(
                $name, $html, $at, 'script' === $name ? strtolower(trim((string) (array_column($attributes, 1, 0)['type'] ?? ''))) : '',
            );
        }

        return $this->withInjection($name, $tag);
    }

    private static function endOfRemark(string $html, int $at): int
    {
        if (0 === substr_compare($html, '<!--', $at, 4) && 1 !== preg_match('/<!---?>/A', $html, $m, 0, $at)) {
            return 1 === preg_match('/--!?>/', $html, $m, \PREG_OFFSET_CAPTURE, $at + 4) ? $m[0][1] + \strlen($m[0][0]) : \strlen($html);
        }
        $end = strpos($html, '>', $at);

        return false === $end ? \strlen($html) : $end + 1;
    }

    /**
     * @return array{list<array{string, string|null, string}>, bool} name in lower case, value decoded, source; and whether the tag ends
     */
    private function attributes(string $html, int &$at): array
    {
        $attributes = [];
        while (1 === preg_match(
            '/[\s\/]*+(?:(>)|(=?[^\s\/>=]*+)(?:\s*+=\s*+(?:"([^"]*+)"|\'([^\']*+)\'|([^\s>"\'][^\s>]*+|(?=[\s>]))))?)/A',
            $html,
            $m,
            \PREG_UNMATCHED_AS_NULL,
            $at,
        )) {
            $at += \strlen($m[0]);
            if ('' === $m[0] || 1 === preg_match('/\s*+=\s*+["\']/A', $html, $quote, 0, $at)) {
                // A quotation mark that never closes takes in the rest of the document.
                $at = \strlen($html);

                return [$attributes, false];
            }
            if (isset($m[1])) {
                return [$attributes, true];
            }
            if (\count($attributes) > self::MOST_ATTRIBUTES) {
                continue;
            }
            $value = $m[3] ?? $m[4] ?? $m[5] ?? null;
            $attributes[] = [
                strtolower($m[2] ?? ''), null === $value ? null : html_entity_decode($value, \ENT_QUOTES | \ENT_HTML5, 'UTF-8'), $m[0],
            ];
        }

        return [$attributes, false];
    }

    /**
     * @param list<array{string, string|null, string}> $attributes
     */
    private function tag(string $name, array $attributes, string $source): string
    {
        $changed = [];
        $values = array_column($attributes, 1, 0);
        if ('meta' === $name) {
            return $this->meta($values, $source);
        }
        if ('link' === $name && 1 === preg_match(self::HINTS, trim((string) ($values['rel'] ?? '')))) {
            return '';
        }
        foreach ($attributes as $i => [$attribute, $value]) {
            $new = null === $value ? null : $this->value($name, $attribute, $value);
            if ($new !== $value) {
                $changed[$i] = $new;
            }
        }
        if (\count($attributes) > self::MOST_ATTRIBUTES) {
            // No page has so many; what was not looked at does not go through.
            $changed[self::MOST_ATTRIBUTES] = null;
        }
        if ([] === $changed) {
            return $source;
        }
        $out = '<'.$name;
        foreach ($attributes as $i => [$attribute, $value, $written]) {
            if (!\array_key_exists($i, $changed)) {
                $out .= ' ' === ($written[0] ?? ' ') ? $written : ' '.ltrim($written, " \t\r\n/\f");
            } elseif (null !== $changed[$i]) {
                $out .= ' '.$attribute.'="'.htmlspecialchars($changed[$i], \ENT_COMPAT | \ENT_SUBSTITUTE, 'UTF-8').'"';
            }
        }

        $target = strtolower($values['target'] ?? '');
        // Where a link leads out of its frame is kept for our script, which knows which window is which.
        $out .= '_top' === $target || '_parent' === $target ? ' data-ypomna-target="'.$target.'"' : '';

        return $out.(str_ends_with($source, '/>') ? ' />' : '>');
    }

    /** @return string|null null to leave the attribute out */
    private function value(string $name, string $attribute, string $value): ?string
    {
        return match (true) {
            !$this->scripts && str_starts_with($attribute, 'on') => null,
            'integrity' === $attribute, 'ping' === $attribute, 'nonce' === $attribute => null,
            'crossorigin' === $attribute => 'anonymous',
            'target' === $attribute => \in_array(strtolower($value), ['_blank', '_top', '_parent', '_new'], true) ? '_self' : $value,
            'style' === $attribute, \in_array($attribute, self::STYLED, true) && str_contains($value, '(') => $this->css->rewrite($value),
            'srcdoc' === $attribute => (new self($this->mapper, $this->inject, $this->scripts, $this->encoding))->rewrite($value),
            \in_array($attribute, self::CANDIDATES, true) => $this->candidates($value),
            \in_array($attribute, self::REFERENCES, true) => $this->mapper->map($value),
            str_starts_with($attribute, 'data-'), 'param' === $name && 'value' === $attribute => $this->mapper->mapAbsolute($value),
            default => $value,
        };
    }

    /**
     * @param array<string, string|null> $values
     */
    private function meta(array $values, string $source): string
    {
        $equivalent = strtolower(trim((string) ($values['http-equiv'] ?? '')));
        if (\in_array(
            $equivalent,
            ['content-security-policy', 'content-security-policy-report-only', 'x-dns-prefetch-control', 'set-cookie', 'origin-trial'],
            true,
        )) {
            return '';
        }
        if ('refresh' === $equivalent
            && 1 === preg_match('/^(\s*[\d.]*[\s;,]*(?:url\s*=\s*)?["\']?)(.*?)(["\']?\s*)$/is', (string) ($values['content'] ?? ''), $m)) {
            return '<meta http-equiv="refresh" content="'
                .htmlspecialchars($m[1].$this->mapper->map($m[2]).$m[3], \ENT_COMPAT | \ENT_SUBSTITUTE, 'UTF-8').'">';
        }

        return $source;
    }

    private function candidates(string $value): string
    {
        [$out, $at] = ['', 0];
        foreach (Candidates::of($value) as $begins => $address) {
            $out .= substr($value, $at, $begins - $at).$this->mapper->map($address);
            $at = $begins + \strlen($address);
        }

        return $out.substr($value, $at);
    }

    /** @param string $type of a script */
    private function rawText(string $name, string $html, int &$at, string $type = ''): string
    {
        $end = preg_match('/<\/'.$name.'(?=[\s\/>])/i', $html, $m, \PREG_OFFSET_CAPTURE, $at) > 0 ? $m[0][1] : \strlen($html);
        $text = substr($html, $at, $end - $at);
        $at = $end;

        return match (true) {
            'style' === $name => $this->css->rewrite($text),
            'script' !== $name || '' === $text => $text,
            'importmap' === $type => $this->script->importMap($text),
            // It would fetch or render ahead of need.
            'speculationrules' === $type => '',
            default => $this->script->rewrite($text, 'module' === $type),
        };
    }

    private function withInjection(string $name, string $tag): string
    {
        if ($this->injected || '' === $this->inject || 'html' === $name) {
            return $tag;
        }
        $this->injected = true;

        return 'head' === $name ? $tag.$this->inject : $this->inject.$tag;
    }
}
