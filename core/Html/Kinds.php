<?php

declare(strict_types=1);

namespace Ypomna\Core\Html;

/**
 * Kinds of elements (HTML Living Standard, section 13.2.4), as sets to look into.
 *
 * @internal
 */
final class Kinds
{
    public const VOID = [
        'area' => 1, 'br' => 1, 'embed' => 1, 'img' => 1, 'keygen' => 1, 'wbr' => 1, 'input' => 1, 'param' => 1, 'source' => 1,
        'track' => 1, 'hr' => 1, 'base' => 1, 'basefont' => 1, 'bgsound' => 1, 'link' => 1, 'meta' => 1, 'col' => 1, 'frame' => 1,
    ];
    public const RAW = [
        'title' => 1, 'textarea' => 1, 'style' => 1, 'xmp' => 1, 'iframe' => 1, 'noembed' => 1, 'noframes' => 1, 'noscript' => 1,
        'script' => 1,
    ];
    public const IN_HEAD = [
        'base' => 1, 'basefont' => 1, 'bgsound' => 1, 'link' => 1, 'meta' => 1, 'noframes' => 1, 'script' => 1, 'style' => 1,
        'template' => 1, 'title' => 1,
    ];
    public const FORMATTING = [
        'a' => 1, 'b' => 1, 'big' => 1, 'code' => 1, 'em' => 1, 'font' => 1, 'i' => 1, 'nobr' => 1, 's' => 1, 'small' => 1, 'strike' => 1,
        'strong' => 1, 'tt' => 1, 'u' => 1,
    ];
    public const HEADINGS = ['h1' => 1, 'h2' => 1, 'h3' => 1, 'h4' => 1, 'h5' => 1, 'h6' => 1];
    /** Elements that close an open paragraph and are closed by their end tag. */
    public const BLOCKS = [
        'address' => 1, 'article' => 1, 'aside' => 1, 'blockquote' => 1, 'button' => 1, 'center' => 1, 'details' => 1, 'dialog' => 1,
        'dir' => 1, 'div' => 1, 'dl' => 1, 'fieldset' => 1, 'figcaption' => 1, 'figure' => 1, 'footer' => 1,
        'header' => 1, 'hgroup' => 1, 'listing' => 1, 'main' => 1, 'menu' => 1, 'nav' => 1, 'ol' => 1, 'pre' => 1, 'search' => 1,
        'section' => 1, 'select' => 1, 'summary' => 1, 'ul' => 1,
    ];
    public const SPECIAL = self::BLOCKS + self::VOID + self::RAW + self::HEADINGS + [
        'applet' => 1, 'body' => 1, 'caption' => 1, 'colgroup' => 1, 'dd' => 1, 'dt' => 1, 'form' => 1, 'frameset' => 1, 'head' => 1,
        'html' => 1, 'li' => 1, 'marquee' => 1, 'object' => 1, 'p' => 1, 'plaintext' => 1, 'table' => 1,
        'tbody' => 1, 'td' => 1, 'template' => 1, 'tfoot' => 1, 'th' => 1, 'thead' => 1, 'tr' => 1,
    ];
    public const SCOPE = [
        'applet' => 1, 'caption' => 1, 'html' => 1, 'table' => 1, 'td' => 1, 'th' => 1, 'marquee' => 1, 'object' => 1, 'template' => 1,
        'select' => 1,
    ];
    public const LIST_SCOPE = self::SCOPE + ['ol' => 1, 'ul' => 1];
    public const BUTTON_SCOPE = self::SCOPE + ['button' => 1];
    public const TABLE_SCOPE = ['html' => 1, 'table' => 1, 'template' => 1];
    public const IMPLIED = [
        'dd' => 1, 'dt' => 1, 'li' => 1, 'optgroup' => 1, 'option' => 1, 'p' => 1, 'rb' => 1, 'rp' => 1, 'rt' => 1, 'rtc' => 1,
    ];
    public const IMPLIED_THOROUGHLY = self::IMPLIED + [
        'caption' => 1, 'colgroup' => 1, 'tbody' => 1, 'td' => 1, 'tfoot' => 1, 'th' => 1, 'thead' => 1, 'tr' => 1,
    ];
    public const IN_TABLE = [
        'caption' => 1, 'col' => 1, 'colgroup' => 1, 'tbody' => 1, 'td' => 1, 'tfoot' => 1, 'th' => 1, 'thead' => 1, 'tr' => 1,
    ];
    /** HTML that ends a foreign element it stands in (section 13.2.6.5). */
    public const OUT_OF_FOREIGN = self::HEADINGS + [
        'b' => 1, 'big' => 1, 'blockquote' => 1, 'body' => 1, 'br' => 1, 'center' => 1, 'code' => 1, 'dd' => 1, 'div' => 1, 'dl' => 1,
        'dt' => 1, 'em' => 1, 'embed' => 1, 'head' => 1, 'hr' => 1, 'i' => 1, 'img' => 1, 'li' => 1, 'listing' => 1,
        'menu' => 1, 'meta' => 1, 'nobr' => 1, 'ol' => 1, 'p' => 1, 'pre' => 1, 'ruby' => 1, 's' => 1, 'small' => 1, 'span' => 1,
        'strong' => 1, 'strike' => 1, 'sub' => 1, 'sup' => 1, 'table' => 1, 'tt' => 1, 'u' => 1, 'ul' => 1, 'var' => 1,
    ];
    private const SPECIAL_SVG = ['foreignobject' => 1, 'desc' => 1, 'title' => 1];
    private const SPECIAL_MATH = ['mi' => 1, 'mo' => 1, 'mn' => 1, 'ms' => 1, 'mtext' => 1, 'annotation-xml' => 1];

    public static function isSpecial(Open $element): bool
    {
        return match ($element->vocabulary) {
            MarkupVocabulary::Html => isset(self::SPECIAL[$element->name]),
            default => self::isForeignBound($element),
        };
    }

    /** Whether a scope ends at that element of a foreign vocabulary. */
    public static function isForeignBound(Open $element): bool
    {
        return match ($element->vocabulary) {
            MarkupVocabulary::Html => false,
            MarkupVocabulary::Svg => isset(self::SPECIAL_SVG[$element->name]),
            MarkupVocabulary::Math => isset(self::SPECIAL_MATH[$element->name]),
        };
    }
}
